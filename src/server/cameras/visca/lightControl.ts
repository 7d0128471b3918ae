/** Reads and sets exposure and white balance over VISCA, one value at a time as the protocol has it. */
import type { Light } from '../../../core/cameras/light'
import type { ViscaCommand } from '../../../core/visca/commands'
import type { Answer, InquiryKind } from '../../../core/visca/inquiries'
import { type Levels, lightOf, SETTINGS, type Setting, settingsFor } from '../../../core/visca/settings'
import { type CameraResult, DONE } from '../camera'
import type { Clock } from '../clock'

const LOOK_AGAIN_MS = 15

const isSetting = (kind: InquiryKind): kind is Setting => SETTINGS.includes(kind as Setting)

export class LightControl {
  private levels: Levels = {}
  private open = new Set<Setting>()

  /**
   * @param ask hands an inquiry to the session
   * @param order hands a command to the camera
   */
  constructor(
    private readonly ask: (inquiry: InquiryKind) => void,
    private readonly order: (command: ViscaCommand) => Promise<CameraResult>,
    private readonly clock: Clock,
  ) {}

  /** Null if it did not answer in time, or does not know these questions. */
  async read(timeoutMs: number): Promise<Light | null> {
    const since = this.clock.now()
    this.levels = {}
    this.open = new Set(SETTINGS)
    while (this.open.size > 0 && this.clock.now() - since < timeoutMs) {
      // Asked again until it comes: a question that got lost is not resent by the session.
      for (const setting of this.open) this.ask(setting)
      await new Promise<void>((resolve) => this.clock.after(LOOK_AGAIN_MS, resolve))
    }
    return lightOf(this.levels)
  }

  take(answer: Answer): void {
    if (!isSetting(answer.kind) || !('value' in answer)) return
    this.levels[answer.kind] = answer.value
    this.open.delete(answer.kind)
  }

  /** The camera does not know this question. */
  missed(inquiry: InquiryKind): void {
    if (isSetting(inquiry)) this.open.delete(inquiry)
  }

  /** In order and each awaited, since a level is refused before its mode is there. */
  async apply(light: Light): Promise<CameraResult> {
    for (const [setting, value] of settingsFor(light)) {
      const result = await this.order({ kind: 'set', setting, value })
      if (!result.ok) return result
    }
    return DONE
  }
}
