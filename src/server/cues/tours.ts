/** Tours and recorded moves as they are played, at most one for each camera. A hand pauses a tour and ends a move. */

import { placeAt } from '../../core/cues/lengths'
import type { ReplayNow, TourNow } from '../../core/cues/now'
import type { Part, StepOf } from '../../core/cues/show'
import { TourRun } from '../../core/cues/tour'
import { type Actor, cueActor } from '../../core/orders/actors'
import { AS_USUAL } from '../../core/orders/entries'
import type { Clock } from '../cameras/clock'
import { NO_PATH } from '../cameras/travels'
import { type TravellingDeps, travel } from './travelling'
import type { Outcome } from './travelWaits'

export interface ToursDeps extends TravellingDeps {
  clock: Clock
  tour(id: string): Part<'tour'> | null
  move(id: string): Part<'move'> | null
  /** Why a camera must not be moved by itself now; null: it may be. */
  kept(camera: string): string | null
  /** Stops a camera softly. */
  still(camera: string): void
  changed(): void
}

interface Touring {
  run: TourRun
  part: Part<'tour'>
  actor: Actor
  over(outcome: Outcome): void
  cancel(): void
}
interface Playing {
  now: ReplayNow
  startedMs: number
  stopped: boolean
}

const HELD = 'It waits, as the running order is held.'
const GO_ON = 'A hand has this camera. Press “Go on” when the tour is to continue.'
/** How often it is looked whether it may move again, ms. */
const LOOK_AGAIN_MS = 500
const TRIES = 3
const AGAIN_MS = 400
/** The approach to the first pose of a recorded move, s. */
const APPROACH_S = 2

export class Tours {
  private readonly touring = new Map<string, Touring>()
  private readonly playing = new Map<string, Playing>()
  private held = false

  constructor(private readonly deps: ToursDeps) {}

  get tours(): TourNow[] {
    return [...this.touring.values()].map(({ run, part }) => ({
      ...{ tour: part.id, name: part.name, camera: part.camera, state: run.state, why: run.why },
      preset: run.current?.preset ?? null,
    }))
  }

  get replays(): ReplayNow[] {
    const nowMs = this.deps.clock.now()
    return [...this.playing.values()].map(({ now, startedMs }) => ({ ...now, intoMs: nowMs - startedMs }))
  }

  /** @returns how it ended; at once for one that goes on until it is stopped */
  start(id: string, name: string): Promise<Outcome> {
    const { deps } = this
    const part = deps.tour(id)
    if (!part) return Promise.resolve({ ok: false, why: 'This tour no longer exists.' })
    this.end(part.camera)
    const actor = cueActor(name)
    const ended = new Promise<Outcome>((resolve) => {
      const one: Touring = {
        run: new TourRun(part, Math.floor(deps.clock.wall()), deps.clock.now()),
        ...{ part, actor, over: resolve, cancel: () => {} },
      }
      this.touring.set(part.camera, one)
      this.tick(one)
    })
    return part.rounds === 0 ? Promise.resolve({ ok: true }) : ended
  }

  /** The running order is held: what is on its way arrives, and nothing sets off. */
  hold(on: boolean): void {
    this.held = on
  }

  /** A tour that a hand has paused. @returns false if there is none */
  goOn(id: string): boolean {
    const one = [...this.touring.values()].find(({ part }) => part.id === id)
    if (one?.run.state !== 'paused') return false
    one.run.goOn(this.deps.clock.now())
    this.tick(one)
    return true
  }

  async replay(does: StepOf<'replay'>, name: string): Promise<Outcome> {
    const { deps } = this
    const move = deps.move(does.move)
    if (!move) return { ok: false, why: 'This recorded move no longer exists.' }
    const { camera } = move
    this.end(camera)
    const playing: Playing = {
      startedMs: deps.clock.now(),
      stopped: false,
      now: { move: move.id, name: move.name, camera, state: 'approaching', intoMs: 0, round: 0 },
    }
    this.playing.set(camera, playing)
    deps.changed()
    const played = this.play(does, move, cueActor(name), playing).finally(() => {
      if (this.playing.get(camera) === playing) this.playing.delete(camera)
      deps.changed()
    })
    return does.times === 0 ? { ok: true } : played
  }

  private async play(
    { percent, backwards, times }: StepOf<'replay'>,
    move: Part<'move'>,
    actor: Actor,
    playing: Playing,
  ): Promise<Outcome> {
    const { deps } = this
    const { camera, points } = move
    const end = points.at(-1)!.s
    const { panDeg, tiltDeg, zoom } = placeAt(points, backwards ? end : 0)
    const pose = { panDeg, tiltDeg, zoom, focusAuto: null, focus: null, encoder: null }
    let said: string | null = null
    for (let round = 0; times === 0 || round < times; round++) {
      Object.assign(playing.now, { state: 'approaching', round })
      deps.changed()
      const to = { t: 'goToPose' as const, camera, pose, ...AS_USUAL, atLeastSeconds: APPROACH_S }
      const there = await travel(deps, to, camera, '', actor)
      if (playing.stopped) return { ok: false, why: 'It was stopped.' }
      if (!there.ok) return there
      playing.now.state = 'playing'
      playing.startedMs = deps.clock.now()
      deps.changed()
      const order = { t: 'replay' as const, camera, move: move.id, percent, backwards, atLeastSeconds: null }
      let outcome = await travel(deps, order, camera, '', actor)
      // Where it stands may not be known for a moment, as on a computer that is held up.
      for (let n = 0; n < TRIES && outcome.why === NO_PATH && !playing.stopped; n++) {
        await new Promise<void>((resolve) => deps.clock.after(AGAIN_MS, resolve))
        outcome = await travel(deps, order, camera, '', actor)
      }
      if (playing.stopped) return { ok: false, why: 'It was stopped.' }
      if (!outcome.ok) return outcome
      said = outcome.said ?? said
    }
    return { ok: true, said }
  }

  /** Somebody else has the camera now. */
  taken(camera: string, by: Actor): void {
    if (by.kind === 'cue') return
    const one = this.touring.get(camera)
    if (one && one.run.state !== 'paused') {
      one.run.pause(by.kind === 'server' ? 'It was stopped. Press “Go on” when it is to continue.' : GO_ON)
      one.cancel()
      this.deps.changed()
    }
    const played = this.playing.get(camera)
    if (played) {
      played.stopped = true
      this.playing.delete(camera)
      this.deps.changed()
    }
  }

  /** Ends what is played on a camera, without a word to it. */
  end(camera: string): void {
    const one = this.touring.get(camera)
    if (one) {
      one.run.stop()
      one.cancel()
      this.touring.delete(camera)
      one.over({ ok: false, why: 'It was stopped.' })
    }
    const played = this.playing.get(camera)
    if (played) played.stopped = true
    this.playing.delete(camera)
    if (one || played) this.deps.changed()
  }

  /** @returns false if nothing of this id is played */
  stop(id: string): boolean {
    const cameras = [
      ...[...this.touring].filter(([, { part }]) => part.id === id).map(([camera]) => camera),
      ...[...this.playing].filter(([, { now }]) => now.move === id).map(([camera]) => camera),
    ]
    for (const camera of cameras) {
      this.end(camera)
      this.deps.still(camera)
    }
    return cameras.length > 0
  }

  stopAll(): void {
    for (const camera of new Set([...this.touring.keys(), ...this.playing.keys()])) this.end(camera)
  }

  private tick(one: Touring): void {
    const { deps } = this
    one.cancel()
    if (this.touring.get(one.part.camera) !== one) return
    const { run, part } = one
    const nowMs = deps.clock.now()
    const before = run.state
    const stop = run.due(nowMs, this.held ? HELD : part.onAir === 'wait' ? deps.kept(part.camera) : null)
    if (stop) void this.goTo(one, stop)
    else if (run.state === 'ended') {
      this.touring.delete(part.camera)
      one.over({ ok: true })
    } else if (run.state === 'waiting') one.cancel = deps.clock.after(LOOK_AGAIN_MS, () => this.tick(one))
    else if (run.nextAtMs !== null)
      one.cancel = deps.clock.after(Math.max(0, run.nextAtMs - nowMs), () => this.tick(one))
    if (stop || run.state !== before) deps.changed()
  }

  private async goTo(one: Touring, { preset, pace }: NonNullable<TourRun['current']>): Promise<void> {
    const { deps } = this
    const { run, part, actor } = one
    const order = { t: 'recall' as const, preset, pace, atLeastSeconds: null, whole: false }
    const outcome = await travel(deps, order, part.camera, preset, actor)
    if (outcome.ok) run.arrived(deps.clock.now())
    else run.failed(deps.clock.now())
    this.tick(one)
  }
}
