/** Recalls looks: at once or faded, through the gate setting by setting, with what was there before kept for an undo. */
import type { Part } from '../../core/cues/show'
import type { Actor } from '../../core/orders/actors'
import { fadedValue, type LookPlan, planLook, settingsNow } from '../../core/picture/looks'
import type { SettingGroup, SettingSpec, SettingValue, SettingValues } from '../../core/picture/settings'
import { countsAsOnAir, type TallyState } from '../../core/tally/sources'
import type { CameraResult } from '../cameras/camera'
import type { Clock } from '../cameras/clock'
import type { Facts } from '../facts/facts'
import type { Gate } from '../gate/gate'
import type { FormerSettings } from './former'

/** Between two steps of a fade. */
const STEP_MS = 120

export interface LooksDeps {
  facts: Pick<Facts, 'get'>
  gate: Pick<Gate, 'perform'>
  clock: Clock
  former: Pick<FormerSettings, 'keep' | 'ended' | 'take' | 'list'>
  look(id: string): Part<'look'> | null
  camera(id: string): { id: string; number: number; name: string } | null
  tally(camera: string): TallyState
}

export interface LookRecall {
  /** Null: those of the look. A camera that the look does not know takes what it keeps of its first. */
  cameras: readonly string[] | null
  groups: readonly SettingGroup[] | null
  /** Null: as the look has it. */
  seconds: number | null
  /** What would jump on air was confirmed. */
  confirmed: boolean
}
export const WHOLE_LOOK: LookRecall = { cameras: null, groups: null, seconds: null, confirmed: false }

export type Recalled =
  | { is: 'done'; undo: string; problems: string[] }
  | { is: 'ask'; why: string }
  | { is: 'refused'; why: string }

interface Planned {
  camera: string
  name: string
  specs: readonly SettingSpec[]
  plan: LookPlan
}

const UNDONE = ', then undone'
/** An undo that is undone is what was done at first. */
const undoneText = (what: string) => (what.endsWith(UNDONE) ? what.slice(0, -UNDONE.length) : what + UNDONE)

export class Looks {
  /** Counts what changes a camera, so that an older fade knows that it is over. */
  private readonly newest = new Map<string, number>()
  private closed = false

  constructor(private readonly deps: LooksDeps) {}

  /** What a recall would change, camera by camera. */
  planned(
    look: Pick<Part<'look'>, 'cameras'>,
    { cameras, groups }: Pick<LookRecall, 'cameras' | 'groups'>,
  ): Planned[] {
    const ids = cameras ?? look.cameras.map(({ camera }) => camera)
    return ids.flatMap((id) => {
      const camera = this.deps.camera(id)
      const kept = look.cameras.find((one) => one.camera === id) ?? look.cameras[0]
      const specs = this.deps.facts.get('able', id)?.settings
      if (!camera || !kept || !specs) return []
      const plan = planLook(kept.settings, specs, this.values(id), groups)
      return [{ camera: id, name: `${camera.number} ${camera.name}`, specs, plan }]
    })
  }

  async recall(id: string, how: LookRecall, actor: Actor): Promise<Recalled> {
    const look = this.deps.look(id)
    if (!look) return { is: 'refused', why: 'This look no longer exists.' }
    return this.bring(look, how, actor, `“${look.name}” was recalled`)
  }

  /**
   * @param look as it is kept, or what stood before another
   * @param what it is, for the list of what can be undone
   */
  private async bring(
    look: Pick<Part<'look'>, 'cameras' | 'fadeSeconds'>,
    how: LookRecall,
    actor: Actor,
    what: string,
  ): Promise<Recalled> {
    const planned = this.planned(look, how)
    if (planned.length === 0)
      return { is: 'refused', why: 'None of its cameras answers now, so nothing was set.' }
    const seconds = how.seconds ?? look.fadeSeconds
    const jumps = planned.flatMap(({ camera, name, plan }) => {
      if (!countsAsOnAir(this.deps.tally(camera))) return []
      const labels = plan.changes
        .filter((c) => c.jumps || seconds === 0)
        .map(({ label }) => label.toLowerCase())
      return labels.length > 0 ? [`${name} is on air: ${labels.join(', ')} would jump.`] : []
    })
    if (jumps.length > 0 && !how.confirmed && actor.kind !== 'cue') return { is: 'ask', why: jumps.join(' ') }
    const undo = await this.remember(
      what,
      planned.map(({ camera }) => camera),
    )
    try {
      const all = await Promise.all(planned.map((one) => this.set(one, seconds, actor)))
      return { is: 'done', undo, problems: all.flat() }
    } finally {
      if (!this.closed) this.done(undo)
    }
  }

  /** Keeps what cameras are set to now. @returns what undoes whatever comes after */
  remember(what: string, cameras: readonly string[]): Promise<string> {
    const settings = cameras.map((camera) => {
      const specs = this.deps.facts.get('able', camera)?.settings ?? []
      return { camera, settings: settingsNow(specs, this.values(camera)) }
    })
    return this.deps.former.keep(what, settings)
  }

  /** What was remembered is over: it was not cut short. */
  done(undo: string): void {
    this.deps.former.ended(undo)
  }

  /** What can be undone, newest first; cameras by their names. */
  async former(): Promise<{ id: string; what: string; cameras: string[]; atMs: number; cut: boolean }[]> {
    const all = await this.deps.former.list()
    return all.map(({ id, what, cameras, atMs, state }) => {
      const names = cameras.flatMap(({ camera }) => {
        const one = this.deps.camera(camera)
        return one ? [`${one.number} ${one.name}`] : []
      })
      return { id, what, cameras: names, atMs, cut: state === 'cut' }
    })
  }

  /** Brings back what stood before a recall. */
  async undo(token: string, actor: Actor): Promise<Recalled> {
    const before = await this.deps.former.take(token)
    if (!before) return { is: 'refused', why: 'What stood before is no longer known.' }
    const look = { cameras: before.cameras, fadeSeconds: 0 }
    return this.bring(look, { ...WHOLE_LOOK, confirmed: true }, actor, undoneText(before.what))
  }

  /** What stood before something that is no recall and is over. @returns what could not be set */
  async restore(token: string, actor: Actor): Promise<string[]> {
    const before = await this.deps.former.take(token)
    const planned = before ? this.planned({ cameras: before.cameras }, WHOLE_LOOK) : []
    const all = await Promise.all(planned.map((one) => this.set(one, 0, actor)))
    return all.flat()
  }

  close(): void {
    this.closed = true
  }

  private values(camera: string): SettingValues {
    return this.deps.facts.get('settings', camera) ?? {}
  }

  private async set(
    { camera, name, specs, plan }: Planned,
    seconds: number,
    actor: Actor,
  ): Promise<string[]> {
    const mine = (this.newest.get(camera) ?? 0) + 1
    this.newest.set(camera, mine)
    const problems =
      plan.missing.length > 0 ? [`${name} has no ${plan.missing.join(', ').toLowerCase()}.`] : []
    const give = async (key: string, label: string, value: SettingValue) => {
      const result: CameraResult = await this.deps.gate.perform(
        { t: 'setting', camera, key, value },
        actor,
        true,
      )
      if (!result.ok) problems.push(`${name}, ${label}: ${result.message}`)
      return result.ok
    }
    const faded = plan.changes.filter((c) => seconds > 0 && !c.jumps && typeof c.from === 'number')
    for (const { key, label, to } of plan.changes.filter((c) => !faded.includes(c)))
      if (this.newest.get(camera) === mine) await give(key, label, to)
    const { clock } = this.deps
    const from = clock.now()
    const open = new Map(faded.map((change) => [change.key, { change, at: change.from }]))
    while (open.size > 0 && !this.closed && this.newest.get(camera) === mine) {
      const share = (clock.now() - from) / (seconds * 1000)
      for (const [key, one] of open) {
        const { change } = one
        const spec = specs.find((s) => s.key === key)!
        const value = fadedValue(spec, change.from as number, change.to as number, share)
        if (value !== one.at) {
          one.at = value
          if (!(await give(key, change.label, value))) open.delete(key)
        }
        if (share >= 1) open.delete(key)
      }
      if (open.size > 0) await new Promise<void>((resolve) => clock.after(STEP_MS, resolve))
    }
    return problems
  }
}
