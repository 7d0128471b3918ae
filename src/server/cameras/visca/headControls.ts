/** The named controls of a VISCA head: set, read back one after the other, and kept as the settings of the camera. */
import {
  controlOf,
  readControlAnswer,
  setBytes,
  settingOf,
  templateBytes,
} from '../../../core/heads/namedControls'
import type { HeadProfile } from '../../../core/heads/profile'
import type { SettingSpec, SettingValue, SettingValues } from '../../../core/picture/settings'
import type { ViscaCommand } from '../../../core/visca/commands'
import type { Answer, ControlKey } from '../../../core/visca/inquiries'
import { CANNOT, type CameraResult } from '../camera'

export interface ControlsHost {
  readonly profile: HeadProfile
  order(command: ViscaCommand): Promise<CameraResult>
  ask(kind: ControlKey, bytes: readonly number[]): void
  /** A value or an ability changed. */
  changed(): void
}

const own = (bytes: readonly number[]): ViscaCommand => ({ kind: 'extra', bytes })

export class HeadControls {
  readonly specs: readonly SettingSpec[]
  readonly values: SettingValues = {}
  private turn = 0
  private freezeUnknown = false
  private speedTold = false

  constructor(private readonly host: ControlsHost) {
    this.specs = host.profile.controls.map(settingOf).filter((spec) => spec !== null)
  }

  get freezes(): boolean {
    return !this.freezeUnknown && controlOf(this.host.profile.controls, 'freeze', 'switch') !== null
  }

  /** Another camera may be there now. */
  begin(): void {
    this.freezeUnknown = false
    this.speedTold = false
  }

  async set(key: string, value: SettingValue): Promise<CameraResult> {
    const control = this.host.profile.controls.find((c) => c.key === key)
    if (!control) return CANNOT('change this setting')
    const result = await this.host.order(own(setBytes(control, value)))
    if (result.ok) this.keep(key, value)
    return result
  }

  async freeze(on: boolean): Promise<CameraResult> {
    const control = controlOf(this.host.profile.controls, 'freeze', 'switch')
    if (!control) return CANNOT('hold its picture')
    const result = await this.host.order(own(setBytes(control, on)))
    if (!result.ok && result.unknown) {
      this.freezeUnknown = true
      this.host.changed()
    }
    return result
  }

  /** Once: it keeps the speed until it is switched off. A head that refuses it recalls as fast as it likes. */
  async tellMemorySpeed(): Promise<void> {
    const { memorySpeed } = this.host.profile
    if (!memorySpeed || this.speedTold) return
    this.speedTold = true
    await this.host.order(own(templateBytes(memorySpeed.command, { value: memorySpeed.max })))
  }

  /** One after the other, so that they take little of the line. */
  askNext(): void {
    const asked = this.host.profile.controls.filter((c) => c.ask !== undefined && c.shown)
    const control = asked[this.turn++ % Math.max(1, asked.length)]
    if (control?.ask) this.host.ask(`control:${control.key}`, templateBytes(control.ask))
  }

  take(answer: Answer & { kind: ControlKey }): void {
    const key = answer.kind.slice('control:'.length)
    const control = this.host.profile.controls.find((c) => c.key === key)
    const value = control ? readControlAnswer(control, answer.bytes) : null
    if (value !== null) this.keep(key, value)
  }

  private keep(key: string, value: SettingValue): void {
    if (this.values[key] === value) return
    this.values[key] = value
    this.host.changed()
  }
}
