/**
 * One cue as it runs. It holds no clock and does nothing itself: it is told the time and what became of its steps, and
 * says which steps are to begin now, so that a whole evening can be run from a seed in a moment.
 */
import type { Cue, Step } from './show'

export type StepState = 'waiting' | 'running' | 'done' | 'failed' | 'out' | 'stopped'
const OVER: ReadonlySet<StepState> = new Set(['done', 'failed', 'out', 'stopped'])

/** A cue without length that runs again and again would keep the server busy, ms. */
const LEAST_ROUND_MS = 250
/** Of the sums of decimals. */
const GRAIN_MS = 1e-6

export interface StepRun {
  readonly step: Step
  state: StepState
  startedMs: number | null
  endedMs: number | null
  /** Why it failed, or was left out. */
  why: string | null
  /** What was said of it although it was done, as that it was eased. */
  said: string | null
}

export interface RunNeeds {
  /** The camera that a step moves or changes; null: none. */
  cameraOf(step: Step): string | null
}

export type CueEnd = 'ended' | 'stopped'

export class CueRun {
  readonly steps: readonly StepRun[]
  /** Cameras that a hand has taken out of it, and why. */
  readonly out = new Map<string, string>()
  /** Rounds that are through. */
  rounds = 0
  end: CueEnd | null = null
  private roundMs: number
  private pausedMs: number | null = null
  private readonly byId: ReadonlyMap<string, StepRun>

  constructor(
    readonly cue: Pick<Cue, 'steps' | 'times'>,
    private readonly needs: RunNeeds,
    readonly startedMs: number,
  ) {
    this.roundMs = startedMs
    this.steps = cue.steps.map((step) => ({
      ...{ step, state: 'waiting' as const, startedMs: null, endedMs: null, why: null, said: null },
    }))
    this.byId = new Map(this.steps.map((one) => [one.step.id, one]))
  }

  get paused(): boolean {
    return this.pausedMs !== null
  }

  /** How far it is into this round, ms. */
  into(nowMs: number): number {
    return (this.pausedMs ?? nowMs) - this.roundMs
  }

  /**
   * Steps that are to begin by now; they count as begun. A wait ends by itself; of all others it must be told how they
   * ended. Called again after each of those, and at `nextAtMs`.
   */
  due(nowMs: number): Step[] {
    if (this.end || this.pausedMs !== null) return []
    const begun: Step[] = []
    // A wait that has ended may let others begin.
    for (let changed = true; changed; ) {
      changed = this.endWaits(nowMs)
      for (const one of this.steps) {
        const atMs = one.state === 'waiting' ? this.startOf(one.step) : null
        if (atMs === null || atMs > nowMs + GRAIN_MS) continue
        changed = true
        one.startedMs = Math.max(atMs, this.roundMs)
        const camera = this.needs.cameraOf(one.step)
        const out = camera === null ? undefined : this.out.get(camera)
        if (out !== undefined) this.over(one, 'out', nowMs, out)
        else {
          one.state = 'running'
          if (one.step.does.t !== 'wait' && one.step.does.t !== 'arrive') begun.push(one.step)
        }
      }
    }
    this.look(nowMs)
    return begun
  }

  /** When something is due next; null: nothing before something else has ended. */
  get nextAtMs(): number | null {
    if (this.end || this.pausedMs !== null) return null
    const times = this.steps.flatMap((one) => {
      const atMs = one.state === 'waiting' ? this.startOf(one.step) : this.endOf(one)
      return atMs === null ? [] : [atMs]
    })
    if (this.steps.every(({ state }) => OVER.has(state))) times.push(this.roundMs + LEAST_ROUND_MS)
    return times.length > 0 ? Math.min(...times) : null
  }

  ended(
    id: string,
    outcome: { ok: boolean; why?: string | null; said?: string | null },
    nowMs: number,
  ): void {
    const one = this.byId.get(id)
    if (one?.state !== 'running') return
    one.said = outcome.said ?? one.said
    this.over(one, outcome.ok ? 'done' : 'failed', nowMs, outcome.why ?? null)
    this.look(nowMs)
  }

  /** What it is to do is done, but for this. */
  say(id: string, said: string): void {
    const one = this.byId.get(id)
    if (one) one.said = said
  }

  /** A hand has this camera: it takes no further part, and the rest goes on. @returns whether it had a part in it */
  takenOut(camera: string, why: string, nowMs: number): boolean {
    if (this.end || this.out.has(camera)) return false
    const mine = this.steps.filter(({ step }) => this.needs.cameraOf(step) === camera)
    if (mine.length === 0) return false
    this.out.set(camera, why)
    for (const one of mine) if (one.state === 'running') this.over(one, 'out', nowMs, why)
    this.look(nowMs)
    return true
  }

  pause(nowMs: number): void {
    this.pausedMs ??= nowMs
  }

  /** What was not begun when it was held comes so much later. */
  goOn(nowMs: number): void {
    if (this.pausedMs === null) return
    const heldMs = nowMs - this.pausedMs
    this.pausedMs = null
    this.roundMs += heldMs
    for (const one of this.steps) {
      if (one.startedMs !== null) one.startedMs += heldMs
      if (one.endedMs !== null) one.endedMs += heldMs
    }
  }

  stop(nowMs: number): void {
    if (this.end) return
    for (const one of this.steps) if (!OVER.has(one.state)) this.over(one, 'stopped', nowMs, null)
    this.end = 'stopped'
  }

  private over(one: StepRun, state: StepState, nowMs: number, why: string | null): void {
    one.state = state
    one.endedMs = nowMs
    one.why = why
  }

  /** When it is to begin; null: that depends on what is still to come. */
  private startOf({ start }: Step): number | null {
    if (start.kind === 'at') return this.roundMs + start.seconds * 1000
    const before = this.byId.get(start.step)
    // It waits for what is no longer there: as if that had ended at the start.
    if (!before) return this.roundMs + start.seconds * 1000
    return before.endedMs === null ? null : before.endedMs + start.seconds * 1000
  }

  /** When a wait is over by itself; null for all others. */
  private endOf({ state, step, startedMs }: StepRun): number | null {
    if (state !== 'running' || startedMs === null) return null
    const { does } = step
    if (does.t === 'wait') return startedMs + does.seconds * 1000
    return does.t === 'arrive' ? startedMs + does.atMost * 1000 : null
  }

  private endWaits(nowMs: number): boolean {
    let changed = false
    for (const one of this.steps) {
      const endMs = this.endOf(one)
      if (endMs === null) continue
      const { does } = one.step
      const moving = does.t === 'arrive' && this.moving(does.cameras, one)
      if (does.t === 'arrive' && !moving) this.over(one, 'done', nowMs, null)
      else if (endMs > nowMs + GRAIN_MS) continue
      else if (moving) this.over(one, 'failed', endMs, `${moving} had not arrived in time.`)
      else this.over(one, 'done', endMs, null)
      changed = true
    }
    return changed
  }

  /** Is one of the cameras, or any, still on its way? Those that set off later do not count. */
  private moving(cameras: readonly string[], wait: StepRun): string | null {
    const on = this.steps.filter(({ step, state, startedMs }) => {
      const camera = this.needs.cameraOf(step)
      if (camera === null || state !== 'running' || startedMs! > wait.startedMs!) return false
      return cameras.length === 0 || cameras.includes(camera)
    })
    return on.length === 0 ? null : on.length === 1 ? 'A camera' : `${on.length} cameras`
  }

  /** Is it over, or does it begin again? */
  private look(nowMs: number): void {
    if (this.end) return
    this.endWaits(nowMs)
    if (this.steps.some(({ state }) => !OVER.has(state))) {
      if (!this.stuck) return
      for (const one of this.steps)
        if (one.state === 'waiting') this.over(one, 'failed', nowMs, 'It waits for a step that waits for it.')
    }
    const { times } = this.cue
    const last = times !== 0 && this.rounds + 1 >= times
    if (last || this.steps.length === 0) {
      this.rounds += 1
      this.end = 'ended'
      return
    }
    if (nowMs < this.roundMs + LEAST_ROUND_MS) return
    this.rounds += 1
    this.roundMs = nowMs
    for (const one of this.steps)
      Object.assign(one, { state: 'waiting', startedMs: null, endedMs: null, why: null, said: null })
  }

  /** Nothing runs, and what waits can never begin. */
  private get stuck(): boolean {
    return this.steps.every(
      (one) => OVER.has(one.state) || (one.state === 'waiting' && this.startOf(one.step) === null),
    )
  }
}
