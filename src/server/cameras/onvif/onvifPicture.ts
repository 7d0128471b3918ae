/** The picture settings of an ONVIF device: asked once what there is, read again and again, set one by one. */
import { getOptions, readOptions, readValues, setSetting } from '../../../core/onvif/pictureSettings'
import type { Message } from '../../../core/onvif/soap'
import type { SettingSpec, SettingValue, SettingValues } from '../../../core/picture/settings'
import { CANNOT, type CameraResult, DONE } from '../camera'
import type { DeviceFault } from '../deviceFault'
import { NewestWins } from '../newestWins'

export interface PictureHost {
  imaging(body: string): Promise<Message>
  changed(): void
}

export class OnvifPicture {
  specs: readonly SettingSpec[] = []
  values: SettingValues = {}
  private readonly onTheWay = new NewestWins()

  constructor(private readonly host: PictureHost) {}

  /** What this device has; nothing if it does not say. */
  async describe(video: string): Promise<void> {
    try {
      this.specs = readOptions(await this.host.imaging(getOptions(video)))
    } catch (error) {
      if ((error as DeviceFault).kind === 'network') throw error
      this.specs = []
    }
    this.host.changed()
  }

  take(answer: Message): void {
    const values = readValues(answer)
    // What is on its way is newer than what was asked before.
    for (const key of Object.keys(values))
      if (this.onTheWay.has(key)) values[key] = this.values[key] ?? values[key]!
    if (JSON.stringify(values) === JSON.stringify(this.values)) return
    this.values = values
    this.host.changed()
  }

  /** Settles when the device has taken this value, or a newer one of the same setting. */
  set(video: string, key: string, value: SettingValue): Promise<CameraResult> {
    return this.onTheWay.set(key, value, (newest) => this.sendOne(video, key, newest))
  }

  private async sendOne(video: string, key: string, value: SettingValue): Promise<CameraResult> {
    const body = setSetting(video, key, value)
    if (!body) return CANNOT('change this setting')
    try {
      await this.host.imaging(body)
    } catch (error) {
      const { message, kind } = error as DeviceFault
      return { ok: false, message, refused: kind === 'refused' }
    }
    this.values = { ...this.values, [key]: value }
    this.host.changed()
    return DONE
  }
}
