/** Matches cameras to one by measurement: sets, waits for a fresh picture, measures, until it is near enough. */
import type { Actor } from '../../core/orders/actors'
import { Matcher } from '../../core/picture/match'
import { difference, type Linear, movedBetween, type Patch, unfit } from '../../core/picture/patch'
import type { SettingSpec, SettingValues } from '../../core/picture/settings'
import { countsAsOnAir, type TallyState } from '../../core/tally/sources'
import type { Clock } from '../cameras/clock'
import type { Facts } from '../facts/facts'
import type { Gate } from '../gate/gate'
import type { Looks } from './looks'

export interface Place {
  x: number
  y: number
}

export interface MatchingDeps {
  facts: Pick<Facts, 'get'>
  gate: Pick<Gate, 'perform'>
  clock: Clock
  looks: Pick<Looks, 'remember' | 'done'>
  camera(id: string): { id: string; number: number; name: string } | null
  tally(camera: string): TallyState
  /** Measures a picture that was taken after now; null if none comes. */
  measure(camera: string, at: readonly Place[]): Promise<Patch[] | null>
}

export interface MatchOrder {
  /** The camera that is matched to; null: plain grey of the camera's own, or of `level`. */
  reference: { camera: string; at: readonly Place[] } | null
  /** Light of the grey, 0..1 linear; null: as it is. */
  level: number | null
  others: readonly { camera: string; at: readonly Place[] }[]
  confirmed: boolean
}

export interface Matched {
  camera: string
  name: string
  /** CIEDE2000, mean over the patches. */
  before: number | null
  after: number | null
  seconds: number
  /** What prevents it, or why it could not come nearer; null: as near as hardly anybody sees. */
  why: string | null
}

export type MatchResult =
  | { is: 'done'; cameras: Matched[]; undo: string }
  | { is: 'ask'; why: string }
  | { is: 'refused'; why: string }

/** From a camera's answer until its picture surely shows it, beyond what a fresh picture waits for itself. */
const SHOWS_MS = 420
const LONGEST_MS = 22_500
/** From here on it is said that it could not come nearer. */
const NEAR = 2

export class Matching {
  constructor(private readonly deps: MatchingDeps) {}

  async match(order: MatchOrder, actor: Actor): Promise<MatchResult> {
    const { deps } = this
    const onAir = order.others.filter(({ camera }) => countsAsOnAir(deps.tally(camera)))
    if (onAir.length > 0 && !order.confirmed) {
      const names = onAir.map(({ camera }) => this.nameOf(camera)).join(', ')
      return {
        is: 'ask',
        why: `${names}: on air. The audience would see it being matched.`,
      }
    }
    let target: readonly Linear[] | null = null
    if (order.reference) {
      const found = await this.steady(order.reference.camera, order.reference.at)
      if ('why' in found)
        return { is: 'refused', why: `${this.nameOf(order.reference.camera)}: ${found.why}.` }
      target = found.patches
    }
    const undo = await deps.looks.remember(
      order.reference
        ? `cameras were matched to ${this.nameOf(order.reference.camera)}`
        : 'white was measured',
      order.others.map(({ camera }) => camera),
    )
    try {
      const all = order.others.map((one) => this.one(one, target, order.level, actor))
      return { is: 'done', cameras: await Promise.all(all), undo }
    } finally {
      deps.looks.done(undo)
    }
  }

  private nameOf(id: string): string {
    const camera = this.deps.camera(id)
    return camera ? `${camera.number} ${camera.name}` : 'A camera that is gone'
  }

  /** Two pictures that agree, of something that can be measured. */
  private async steady(
    camera: string,
    at: readonly Place[],
  ): Promise<{ patches: readonly Patch[] } | { why: string }> {
    const first = await this.deps.measure(camera, at)
    const second = first && (await this.deps.measure(camera, at))
    if (!first || !second) return { why: 'no picture comes from it' }
    const why = second.map(unfit).find((problem) => problem !== null)
    // Of a chart a few patches may be too bright or too dark: of one patch none.
    const bad = second.filter((patch) => unfit(patch) !== null).length
    if (why && (at.length === 1 || bad > at.length / 4)) return { why }
    if (first.some((patch, i) => movedBetween(patch, second[i]!)))
      return { why: 'something moves there: touch something that stands still' }
    return { patches: second }
  }

  private async one(
    { camera, at }: { camera: string; at: readonly Place[] },
    reference: readonly Linear[] | null,
    level: number | null,
    actor: Actor,
  ): Promise<Matched> {
    const { deps } = this
    const from = deps.clock.now()
    const seconds = () => Math.round((deps.clock.now() - from) / 100) / 10
    const name = this.nameOf(camera)
    const failed = (why: string, before: number | null = null): Matched => ({
      ...{ camera, name, before, after: before, seconds: seconds(), why },
    })
    const specs: readonly SettingSpec[] = deps.facts.get('able', camera)?.settings ?? []
    const values: SettingValues = deps.facts.get('settings', camera) ?? {}
    if (specs.length === 0) return failed('its settings are not known')
    const start = await this.steady(camera, at)
    if ('why' in start) return failed(start.why)
    const grey = ({ r, g, b }: Linear): Linear => {
      const y = level ?? 0.2126 * r + 0.7152 * g + 0.0722 * b
      return { r: y, g: y, b: y }
    }
    const target = reference ?? start.patches.map(grey)
    const before = difference(start.patches, target).mean
    const matcher = new Matcher(specs, values, target)
    let measured: readonly Linear[] = start.patches
    const give = async (sets: readonly { key: string; value: string | number | boolean }[]) => {
      for (const { key, value } of sets) {
        const result = await deps.gate.perform({ t: 'setting', camera, key, value }, actor, true)
        if (!result.ok) return result.message
      }
      await new Promise<void>((resolve) => deps.clock.after(SHOWS_MS, resolve))
      const found = await deps.measure(camera, at)
      if (!found) return 'no picture comes from it any more'
      measured = found
      return null
    }
    const opening = matcher.begin()
    let trouble = opening.length > 0 ? await give(opening) : null
    while (trouble === null && deps.clock.now() - from < LONGEST_MS) {
      const sets = matcher.next(measured)
      if (!sets) break
      trouble = await give(sets)
    }
    const back = trouble === null ? matcher.stop() : []
    if (back.length > 0) trouble = await give(back)
    if (trouble !== null) return failed(trouble, before)
    const after = difference(measured, target).mean
    const why = after > NEAR ? 'it came no nearer with the settings that it has' : null
    return { camera, name, before, after, seconds: seconds(), why }
  }
}
