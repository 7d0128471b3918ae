/**
 * Runs the cues of the open event: starts their steps in time, hears how they ended, and keeps where the running
 * order stands. After a restart it shows where it was, and moves nothing before a hand says so.
 */
import { randomUUID } from 'node:crypto'
import { type KeptShow, NOTHING_RUNS, type RunNow, type ShowNow } from '../../core/cues/now'
import { beside, nextOf } from '../../core/cues/order'
import { type CueState, predictCue, togetherOf } from '../../core/cues/predict'
import { CueRun } from '../../core/cues/run'
import type { CueView, Show, Step } from '../../core/cues/show'
import { type CueWorld, cameraOfStep } from '../../core/cues/world'
import type { Actor } from '../../core/orders/actors'
import type { TallyState } from '../../core/tally/sources'
import type { Clock } from '../cameras/clock'
import { ClockStarter } from './clockStarter'
import type { Recorder } from './recorder'
import type { Tours } from './tours'
import type { Outcome } from './travelWaits'

export interface CueDeskDeps {
  clock: Clock
  show(): Show
  world(): CueWorld
  /** Where the cameras stand, and what is on air. */
  state(): CueState
  timeZone(): string
  /** The actor's own cameras are free for the cue, as far as its hand does not push them. */
  lend(cameras: readonly string[], actor: Actor): void
  /** All steps but those that run by themselves. @param atLeast seconds, so that it arrives with others */
  doStep(step: Step, name: string, atLeast: number | null): Promise<Outcome>
  tours: Tours
  recorder: Recorder
  tell(show: ShowNow): void
  /** @returns whether it is kept */
  keep(kept: KeptShow): Promise<boolean>
  notice(text: string): void
}

interface Running {
  id: string
  view: CueView
  run: CueRun
  by: string
  startedAtMs: number
  together: ReadonlyMap<string, number>
  /** Cues that it started: they end with it. */
  within: Set<string>
  depth: number
  /** Of a cue that another started. */
  over: ((outcome: Outcome) => void) | null
}

const KEPT_RUNS = 4
const TELL_EVERY_MS = 1000
const KEPT_MISSED = 5
const DEEPEST = 5
const A_HAND = (name: string) => `${name} drives this camera.`
const STOPPED = 'It was stopped.'

export class CueDesk {
  private readonly running = new Map<string, Running>()
  private readonly ended: RunNow[] = []
  private position: string | null = null
  private held = false
  private interrupted: ShowNow['interrupted'] = []
  private last: ShowNow['last'] = null
  private missed: ShowNow['missed'] = []
  private readonly starts: ClockStarter
  private event: string | null = null
  private cancelTick: () => void = () => {}
  private cancelTell: () => void = () => {}
  private telling = false
  private closed = false

  constructor(private readonly deps: CueDeskDeps) {
    this.starts = new ClockStarter({
      ...{ clock: deps.clock, timeZone: deps.timeZone },
      starts: () => deps.show().starts,
      held: () => this.held,
      begin: (cue) => this.begin(cue, 'the clock', null, null),
      missed: (cue, atMs) => this.noteMissed(cue, atMs),
      changed: () => this.changed(),
    })
  }

  get now(): ShowNow {
    const { deps } = this
    const { next } = this.starts
    return {
      ...NOTHING_RUNS,
      ...{ position: this.position, held: this.held, interrupted: this.interrupted },
      ...{ last: this.last, missed: this.missed },
      runs: [...[...this.running.values()].map((one) => this.tellRun(one)), ...this.ended],
      tours: deps.tours.tours,
      replays: deps.tours.replays,
      recordings: deps.recorder.now,
      next: next && { cue: next.start.cue, name: this.nameOf(next.start.cue), atMs: next.dueMs },
    }
  }

  /** Another event was opened, or this server has begun: what ran is over, and is told. */
  open(event: string | null, kept: KeptShow | null): void {
    if (event === this.event) {
      this.changed()
      return
    }
    this.stopRuns()
    this.deps.tours.stopAll()
    this.event = event
    this.ended.length = 0
    this.missed = []
    this.position = kept?.position ?? null
    this.held = kept?.held ?? false
    this.deps.tours.hold(this.held)
    this.last = kept?.last ?? null
    this.interrupted = kept?.running ?? []
    this.starts.from(kept?.clockMs ?? null)
    this.changed()
  }

  /** Starts the next cue of the order. @returns why not, in a sentence; null when it has */
  goNext(by: Actor): string | null {
    const { cues } = this.deps.show()
    const next = nextOf(cues, this.position as string | 'end' | null)
    if (!next) return cues.length === 0 ? 'There is no cue yet.' : 'The running order is through.'
    const problem = this.go(next.id, by)
    if (problem === null) {
      this.position = beside(cues, next.id, 1)
      this.changed()
    }
    return problem
  }

  /** @returns why it cannot begin; null when it has */
  go(cue: string, by: Actor): string | null {
    const problem = this.begin(cue, by.name(), by, null)
    if (problem === null) {
      this.interrupted = []
      this.missed = this.missed.filter((one) => one.cue !== cue)
    }
    this.changed()
    return problem
  }

  /** Chooses what Go starts. */
  choose(cue: string | 'end' | null): void {
    this.position = cue
    this.changed()
  }

  step(by: 1 | -1): void {
    const { cues } = this.deps.show()
    const at = this.position ?? nextOf(cues, null)?.id ?? null
    this.choose(beside(cues, at, by))
  }

  /** Nothing begins while it is held; what is on its way arrives. */
  hold(on: boolean): void {
    if (on === this.held) return
    this.held = on
    const nowMs = this.deps.clock.now()
    for (const { run } of this.running.values())
      if (on) run.pause(nowMs)
      else run.goOn(nowMs)
    this.deps.tours.hold(on)
    this.tick()
    this.changed()
  }

  /**
   * One run, or all runs of a cue. Cameras are not told: that is for whoever stops it.
   * @returns those that it moves now; what has arrived, or is in a hand, is left alone
   */
  stop(id: string): string[] {
    const mine = [...this.running.values()].filter((one) => one.id === id || one.view.id === id)
    const cameras = mine.flatMap((one) => this.movedBy(one))
    for (const one of mine) this.stopRun(one)
    this.changed()
    return [...new Set(cameras)]
  }

  stopAll(): void {
    this.stopRuns()
    this.deps.tours.stopAll()
    this.changed()
  }

  /** Somebody moves this camera now; the steps of the cues themselves are no such thing. */
  taken(camera: string, by: Actor): void {
    this.deps.tours.taken(camera, by)
    if (by.kind === 'cue') return
    const nowMs = this.deps.clock.now()
    const why = by.kind === 'server' ? STOPPED : A_HAND(by.name())
    let changed = false
    for (const { run } of this.running.values()) changed = run.takenOut(camera, why, nowMs) || changed
    if (!changed) return
    this.tick()
    this.changed()
  }

  /** The tally of a camera has changed. */
  tallied(camera: string, state: TallyState): void {
    const name = this.deps.world().camera(camera)?.name ?? 'a camera'
    for (const { id, onTally } of this.deps.show().cues)
      if (onTally?.camera === camera && onTally.state === state && !this.held)
        this.begin(id, `the tally of ${name}`, null, null)
    this.changed()
  }

  forgetInterrupted(): void {
    this.interrupted = []
    this.missed = []
    this.changed()
  }

  /** Told soon, however much changes at once. */
  changed(): void {
    if (this.telling || this.closed) return
    this.telling = true
    queueMicrotask(() => this.tellNow())
  }

  close(): void {
    this.closed = true
    this.cancelTick()
    this.cancelTell()
    this.starts.close()
  }

  private begin(
    cue: string,
    name: string,
    actor: Actor | null,
    from: { parent: Running; over(outcome: Outcome): void } | null,
  ): string | null {
    const { deps } = this
    const view = deps.show().cues.find(({ id }) => id === cue)
    if (!view) return 'This cue no longer exists.'
    if (this.held && !from) return 'The running order is held. Press “Go on” first.'
    const world = deps.world()
    const nowMs = deps.clock.now()
    // Started again while it runs: the newest counts.
    for (const one of this.running.values())
      if (one.view.id === cue && one.id !== from?.parent.id) this.stopRun(one)
    const one: Running = {
      ...{ id: randomUUID(), view, by: name, startedAtMs: deps.clock.wall(), within: new Set() },
      run: new CueRun(view, { cameraOf: (step) => cameraOfStep(world, step.does) }, nowMs),
      together: this.togetherOf(view),
      depth: (from?.parent.depth ?? 0) + 1,
      over: from?.over ?? null,
    }
    this.running.set(one.id, one)
    from?.parent.within.add(one.id)
    if (actor) deps.lend(this.camerasOf(view), actor)
    if (!from) this.last = { cue, atMs: one.startedAtMs }
    this.tick()
    return null
  }

  private togetherOf(view: CueView): ReadonlyMap<string, number> {
    const some = view.steps.some(({ does }) => does.t === 'recall' && does.together)
    if (!some) return new Map()
    const { deps } = this
    return togetherOf(predictCue(deps.world(), view, deps.state(), view.id))
  }

  /** Of its own steps, and of the cues that it starts. */
  private camerasOf({ steps }: Pick<CueView, 'steps'>, depth = 1): string[] {
    const world = this.deps.world()
    const all = steps.flatMap(({ does }) => {
      const inner = does.t === 'cue' && depth < DEEPEST ? world.cue(does.cue) : null
      return inner ? this.camerasOf(inner, depth + 1) : (cameraOfStep(world, does) ?? [])
    })
    return [...new Set(all)]
  }

  private movedBy({ run, within }: Running): string[] {
    const world = this.deps.world()
    const own = run.steps.flatMap(({ step, state }) =>
      state === 'running' ? (cameraOfStep(world, step.does) ?? []) : [],
    )
    const inner = [...within].flatMap((id) => {
      const one = this.running.get(id)
      return one ? this.movedBy(one) : []
    })
    return [...own, ...inner]
  }

  private tick(): void {
    this.cancelTick()
    if (this.closed) return
    const nowMs = this.deps.clock.now()
    for (const one of [...this.running.values()]) {
      for (const step of one.run.due(nowMs)) this.start(one, step)
      if (one.run.end) this.over(one)
    }
    const times = [...this.running.values()].flatMap(({ run }) => run.nextAtMs ?? [])
    if (times.length > 0)
      this.cancelTick = this.deps.clock.after(Math.max(0, Math.min(...times) - nowMs), () => {
        this.tick()
        this.changed()
      })
  }

  private start(one: Running, step: Step): void {
    const { deps } = this
    const name = `Cue “${one.view.name}”`
    const ended = (outcome: Outcome) => {
      one.run.ended(step.id, outcome, deps.clock.now())
      this.tick()
      this.changed()
    }
    const failed = (error: unknown) => ended({ ok: false, why: (error as Error).message })
    const { does } = step
    if (does.t === 'cue') {
      if (one.depth >= DEEPEST) {
        ended({ ok: false, why: 'It starts a cue that starts it again.' })
        return
      }
      const endless = deps.world().cue(does.cue)?.times === 0
      const problem = this.begin(does.cue, one.by, null, { parent: one, over: endless ? () => {} : ended })
      if (problem !== null) ended({ ok: false, why: problem })
      else if (endless) ended({ ok: true })
      return
    }
    // A tour or a recorded move that has this camera would take it back again.
    const camera = does.t === 'recall' ? cameraOfStep(deps.world(), does) : null
    if (camera !== null) deps.tours.end(camera)
    if (does.t === 'tour') void deps.tours.start(does.tour, name).then(ended, failed)
    else if (does.t === 'replay') void deps.tours.replay(does, name).then(ended, failed)
    else void deps.doStep(step, name, one.together.get(step.id) ?? null).then(ended, failed)
  }

  private over(one: Running): void {
    if (!this.running.delete(one.id)) return
    this.ended.unshift(this.tellRun(one))
    this.ended.length = Math.min(this.ended.length, KEPT_RUNS)
    one.over?.(one.run.end === 'ended' ? { ok: true } : { ok: false, why: STOPPED })
  }

  private stopRun(one: Running): void {
    // Itself first: the end of a cue within it must let nothing of it begin.
    one.run.stop(this.deps.clock.now())
    for (const id of one.within) {
      const inner = this.running.get(id)
      if (inner) this.stopRun(inner)
    }
    this.over(one)
  }

  private stopRuns(): void {
    for (const one of [...this.running.values()]) this.stopRun(one)
  }

  private tellRun({ id, view, run, by, startedAtMs }: Running): RunNow {
    return {
      ...{ id, cue: view.id, name: view.name, by, startedAtMs, rounds: run.rounds },
      state: run.end ?? 'running',
      intoMs: run.into(this.deps.clock.now()),
      steps: run.steps.map(({ step, state, why, said }) => ({ id: step.id, state, why, said })),
      out: [...run.out].map(([camera, why]) => ({ camera, why })),
    }
  }

  private tellNow(): void {
    this.telling = false
    if (this.closed) return
    const { now } = this
    this.deps.tell(now)
    this.keep()
    this.cancelTell()
    // Times run on: pages that come later are told how far it is.
    const runs = this.running.size > 0 || now.replays.length > 0 || now.recordings.length > 0
    if (runs) this.cancelTell = this.deps.clock.after(TELL_EVERY_MS, () => this.changed())
  }

  private keptText = ''
  private keep(): void {
    const running = [...this.running.values()].map(({ view, run }) => ({
      ...{ cue: view.id, name: view.name, intoMs: Math.round(run.into(this.deps.clock.now())) },
    }))
    const { position, held, last } = this
    // What was interrupted before stays so until a hand has said what is to be.
    const all = [...running, ...this.interrupted.filter(({ cue }) => running.every((one) => one.cue !== cue))]
    const text = JSON.stringify([
      this.event,
      position,
      held,
      last,
      // How far each is, to the second: that is what a restart has to tell.
      all.map(({ cue, intoMs }) => [cue, Math.floor(intoMs / 1000)]),
      this.starts.keptMs,
    ])
    if (text === this.keptText || this.event === null) return
    this.keptText = text
    void this.deps.keep({ position, held, running: all, last, clockMs: this.starts.seenMs }).then((kept) => {
      // A database that was away for a moment must not leave the next start with what is no longer so.
      if (!kept) this.keptText = ''
    })
  }

  private nameOf(cue: string): string {
    return this.deps.show().cues.find(({ id }) => id === cue)?.name ?? 'A cue that is gone'
  }

  private noteMissed(cue: string, atMs: number): void {
    const name = this.nameOf(cue)
    this.missed = [{ cue, name, atMs }, ...this.missed].slice(0, KEPT_MISSED)
    this.deps.notice(
      `“${name}” was to be started by the clock and was not. Start it by hand if it is still wanted.`,
    )
  }
}
