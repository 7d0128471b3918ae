/** A camera that measures itself: goes to a place as its head counts, looks, runs by its drive steps and watches its reports. */
import { isUsable } from '../../core/facts/health'
import type { HeadProfile } from '../../core/heads/profile'
import { unitsToDeg } from '../../core/heads/profile'
import { AS_USUAL } from '../../core/orders/entries'
import type { PresetPose } from '../../core/presets/pose'
import { PICTURE_SETTLES_MS, type RoundWork, SILENT, wait } from './roundWork'

/** A place as the head counts. */
export interface Counted {
  pan: number
  tilt: number
  zoom: number
}

export interface Trace {
  toldMs: number
  stoppedMs: number
  from: Counted
  to: Counted
  seen: ({ atMs: number } & Counted)[]
}

/** Ends the round: nothing further can be measured. */
export class CannotLearn extends Error {}

const LOOK_EVERY_MS = 15
/** It rests where nothing has changed for so long. */
const STILL_MS = 350
const STILL_WITHIN_MS = 4000
/** Near its goal, and nothing changed for so long: it has arrived. Elsewhere it is given longer. */
const ARRIVED_MS = 220
const STUCK_MS = 2500
const LONGEST_MS = 60_000
const NEAR_STEPS = 4
const NEAR_ZOOM = 60
const RESTS_S = 1.2
const NO_REPORT = 'The camera does not report where it is any more.'

export class Learner {
  constructor(
    private readonly work: RoundWork,
    readonly profile: HeadProfile,
  ) {}

  /** Where it stands by its last report. */
  get here(): Counted {
    const { pose } = this.work.member.camera
    if (!pose?.encoder || pose.zoom === null) throw new CannotLearn(NO_REPORT)
    return { ...pose.encoder, zoom: pose.zoom }
  }

  async goTo({ pan, tilt, zoom }: Counted): Promise<Counted> {
    const { work, profile } = this
    const encoder = { pan: Math.round(pan), tilt: Math.round(tilt) }
    const pose: PresetPose = {
      panDeg: unitsToDeg(profile.pan, encoder.pan),
      tiltDeg: unitsToDeg(profile.tilt, encoder.tilt),
      zoom: Math.round(zoom),
      ...{ focusAuto: null, focus: null, encoder },
    }
    const result = await work.perform({ t: 'goToPose', ...AS_USUAL, camera: work.member.row.id, pose })
    if (!result.ok) throw new CannotLearn(result.message)
    return this.arrives({ ...encoder, zoom: Math.round(zoom) })
  }

  /** By what it counts alone: by a profile that is not its own it would seem to travel too fast or too slowly. */
  private async arrives(goal: Counted): Promise<Counted> {
    const { clock, member } = this.work
    let last = this.here
    const beganMs = clock.now()
    let changedMs = beganMs
    for (;;) {
      await wait(clock, LOOK_EVERY_MS)
      const { travel } = member.camera
      if (!this.work.goesOn || travel?.state === 'interrupted')
        throw new CannotLearn('Something else moved it.')
      if (travel?.state === 'failed' && !isUsable(member.camera.health.state)) throw new CannotLearn(SILENT)
      const at = this.here
      if (at.pan !== last.pan || at.tilt !== last.tilt || at.zoom !== last.zoom) {
        last = at
        changedMs = clock.now()
      }
      const still = clock.now() - changedMs
      const near =
        Math.abs(at.pan - goal.pan) <= NEAR_STEPS &&
        Math.abs(at.tilt - goal.tilt) <= NEAR_STEPS &&
        Math.abs(at.zoom - goal.zoom) <= NEAR_ZOOM
      if (near && still > ARRIVED_MS) return at
      if (clock.now() - beganMs > LONGEST_MS) throw new CannotLearn('It does not come to rest.')
      // It came as near as it does: what counts is where it says that it is.
      if (still > STUCK_MS) return at
    }
  }

  /** Its picture at rest; null if it sends none. */
  async look(): Promise<Uint8Array | null> {
    await wait(this.work.clock, PICTURE_SETTLES_MS)
    const { pictures } = this.work.member
    return (await pictures.fresh()) ?? (await pictures.fresh())
  }

  /** Is told to run, and nothing more. @returns when, ms */
  async begin(steps: Counted, seconds: number): Promise<number> {
    const { work } = this
    const result = await work.perform({ t: 'runSteps', camera: work.member.row.id, ...steps, seconds })
    if (!result.ok) throw new CannotLearn(result.message)
    return work.clock.wall()
  }

  /** @returns when that was over, ms */
  async pass(seconds: number): Promise<number> {
    await wait(this.work.clock, 1000 * seconds)
    if (!this.work.goesOn) throw new CannotLearn('It was stopped.')
    return this.work.clock.wall()
  }

  /** Where it comes to rest. */
  async rests(): Promise<Counted> {
    await this.pass(RESTS_S)
    return this.here
  }

  /**
   * Runs at drive steps for a time and waits until it rests.
   * @param until called again and again with how long nothing has changed, ms: true stops it before its time
   */
  async run(
    steps: Counted,
    seconds: number,
    until: (stillMs: number) => boolean = () => false,
  ): Promise<Trace> {
    const { work } = this
    const { clock } = work
    const from = this.here
    const seen: Trace['seen'] = []
    const toldMs = await this.begin(steps, seconds)
    let stoppedMs = toldMs + 1000 * seconds
    let last = from
    let changedMs = toldMs
    const watch = () => {
      const { pose } = work.member.camera
      if (!pose?.encoder || pose.zoom === null) return
      const at = { ...pose.encoder, zoom: pose.zoom }
      if (at.pan === last.pan && at.tilt === last.tilt && at.zoom === last.zoom) return
      last = at
      changedMs = clock.wall()
      seen.push({ atMs: pose.atMs, ...at })
    }
    while (clock.wall() < stoppedMs) {
      if (!work.goesOn) throw new CannotLearn('It was stopped.')
      watch()
      if (until(clock.wall() - changedMs)) {
        await work.perform({ t: 'hold', camera: work.member.row.id })
        stoppedMs = clock.wall()
        break
      }
      await wait(clock, Math.min(LOOK_EVERY_MS, Math.max(1, stoppedMs - clock.wall())))
    }
    const latest = clock.wall() + STILL_WITHIN_MS
    changedMs = Math.max(changedMs, stoppedMs)
    while (clock.wall() - changedMs < STILL_MS && clock.wall() < latest) {
      watch()
      await wait(clock, LOOK_EVERY_MS)
    }
    return { toldMs, stoppedMs, from, to: this.here, seen }
  }
}
