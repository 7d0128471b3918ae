/** The named controls of a VISCA head: set, read back one after the other, and kept as the settings of the camera. */
import {
  controlOf,
  type NamedControl,
  readControlAnswer,
  setBytes,
  settingOf,
  templateBytes,
} from '../../../core/heads/namedControls'
import { controlsOf } from '../../../core/heads/pictureControls'
import type { HeadProfile } from '../../../core/heads/profile'
import {
  BRING_FILE,
  closedBy,
  type SettingSpec,
  type SettingValue,
  type SettingValues,
} from '../../../core/picture/settings'
import type { ViscaCommand } from '../../../core/visca/commands'
import type { Answer, ControlKey, InquiryKind } from '../../../core/visca/inquiries'
import { CANNOT, type CameraResult } from '../camera'
import type { Clock } from '../clock'
import { NewestWins } from '../newestWins'

/** A level that is refused just after its mode was set is tried again for so long, ms. */
const SETTLES_MS = 500
const AGAIN_MS = 60

export interface ControlsHost {
  readonly profile: HeadProfile
  readonly clock: Clock
  order(command: ViscaCommand): Promise<CameraResult>
  ask(kind: ControlKey, bytes: readonly number[]): void
  /** A value or an ability changed. */
  changed(): void
}

const own = (bytes: readonly number[]): ViscaCommand => ({ kind: 'extra', bytes })
const keyOf = (kind: InquiryKind): string => kind.slice('control:'.length)

export class HeadControls {
  specs: readonly SettingSpec[] = []
  values: SettingValues = {}
  /** Those that are asked, in turn; what is not known yet, or may have changed, comes first. */
  private turn = 0
  private soon: string[] = []
  /** What the head says it does not know. */
  private readonly unknown = new Set<string>()
  private readonly all: readonly NamedControl[]
  private readonly onTheWay = new NewestWins()
  private freezeUnknown = false
  private speedTold = false

  constructor(private readonly host: ControlsHost) {
    this.all = controlsOf(host.profile)
    this.offer()
  }

  get freezes(): boolean {
    return !this.freezeUnknown && controlOf(this.host.profile.controls, 'freeze', 'switch') !== null
  }

  /** Another camera may be there now. */
  begin(): void {
    this.freezeUnknown = false
    this.speedTold = false
    this.unknown.clear()
    this.offer()
    this.soon = this.asked.map(({ key }) => key)
  }

  /** Settles when the head has taken this value, or a newer one of the same setting. */
  set(key: string, value: SettingValue): Promise<CameraResult> {
    const control = this.all.find((c) => c.key === key)
    if (!control || this.unknown.has(key)) return Promise.resolve(CANNOT('change this setting'))
    if (control.kind === 'act') return this.sendOne(control, value)
    return this.onTheWay.set(key, value, async (newest) => {
      const result = await this.sendOne(control, newest)
      if (result.ok) this.keep(key, newest)
      // Whatever was kept in the file may have changed.
      if (result.ok && key === BRING_FILE) this.soon = this.asked.map((one) => one.key)
      return result
    })
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

  /** Is something not known yet that can be asked? */
  get eager(): boolean {
    return this.soon.length > 0
  }

  /** One after the other, so that they take little of the line. */
  askNext(): void {
    const { asked } = this
    const key = this.soon.shift() ?? asked[this.turn++ % Math.max(1, asked.length)]?.key
    const control = asked.find((c) => c.key === key)
    if (control?.ask) this.host.ask(`control:${control.key}`, templateBytes(control.ask))
  }

  take(answer: Answer & { kind: ControlKey }): void {
    const control = this.all.find((c) => c.key === keyOf(answer.kind))
    const value = control ? readControlAnswer(control, answer.bytes) : null
    if (value !== null) this.keep(keyOf(answer.kind), value)
  }

  /** It said that it does not know the question, which some say at first: asked again before that is believed. */
  askAgain(kind: InquiryKind): void {
    if (!this.soon.includes(keyOf(kind))) this.soon.push(keyOf(kind))
  }

  /** The head has said whether it knows the question for one of them: what it does not know is not offered. */
  knows(kind: InquiryKind, known: boolean): void {
    const key = keyOf(kind)
    if (this.host.profile.controls.some((c) => c.key === key)) return
    if (known) this.unknown.delete(key)
    else this.unknown.add(key)
    this.offer()
  }

  private get asked(): readonly NamedControl[] {
    return this.all.filter((c) => c.ask !== undefined && c.shown && !this.unknown.has(c.key))
  }

  private offer(): void {
    const { unknown, all } = this
    // What depends on something that the head does not know cannot be reached.
    const here = all.filter((c) => !unknown.has(c.key) && !c.needs.some((need) => unknown.has(need.key)))
    this.specs = here.map((control) => settingOf(control, all)).filter((spec) => spec !== null)
  }

  /** A mode takes a moment to be there, and its levels are refused until then. */
  private async sendOne(control: NamedControl, value: SettingValue): Promise<CameraResult> {
    const { clock } = this.host
    const untilMs = clock.now() + SETTLES_MS
    for (;;) {
      const result = await this.host.order(own(setBytes(control, value)))
      if (result.ok || !result.refused || clock.now() >= untilMs || this.closed(control.key)) return result
      await new Promise<void>((resolve) => clock.after(AGAIN_MS, resolve))
    }
  }

  private closed(key: string): boolean {
    const spec = this.specs.find((s) => s.key === key)
    return spec !== undefined && closedBy(spec, this.specs, this.values) !== null
  }

  private keep(key: string, value: SettingValue): void {
    if (this.values[key] === value) return
    this.values = { ...this.values, [key]: value }
    // The levels of another mode are others.
    const follow = this.all.filter((c) => c.needs.some((need) => need.key === key)).map((c) => c.key)
    this.soon = [...new Set([...this.soon, ...follow])]
    this.host.changed()
  }
}
