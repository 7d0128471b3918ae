/**
 * The recalls of one camera, of which the newest counts: what it travels to, how far it is, how it ends,
 * and the picture that may be held meanwhile.
 */
import { type HeadProfile, topSpeed } from '../../core/heads/profile'
import type { Lens } from '../../core/optics/lens'
import { atLeast, type Parts, secondsOf } from '../../core/presets/pace'
import type { LivePose, PresetPose } from '../../core/presets/pose'
import type { Travel } from '../../core/presets/standing'
import type { Goal } from './body'
import type { CameraResult, Recall } from './camera'
import type { Clock } from './clock'
import type { Followed } from './followed'
import { PictureHold } from './pictureHold'
import { TravelWatch } from './travelWatch'

export interface TravelsHost {
  readonly profile: HeadProfile
  readonly lens: Lens
  pose(): LivePose | null
  /** Are presets gone to as the head itself counts? */
  byEncoder(): boolean
  /** Can it hold its picture? */
  freezes(): boolean
  freeze(on: boolean): Promise<CameraResult>
  /** Can the zoom be driven while the head travels? */
  zoomsApart(): boolean
  /** What moves it until now ends, without a word to the camera. */
  yield(): void
  glideTo(zoom: number, seconds: number, end: () => void): void
  /** Timed moves, where the camera can follow a plan. */
  readonly followed: Pick<Followed, 'plan' | 'along' | 'start' | 'end'>
  /** A sentence for the operator. */
  notice(text: string): void
  travelTo(goal: Goal): Promise<CameraResult>
  tell(travel: Travel | null): void
  /** Whether the picture is held has changed. */
  heldChanged(): void
}

const inSeconds = (s: number) => `${s.toFixed(s < 10 ? 1 : 0)} s`
const TOO_SHORT = (least: number) => `This camera needs ${inSeconds(least)} for this move, and takes them.`
const TOO_LONG = (most: number) =>
  `So slowly this camera cannot move smoothly. In ${inSeconds(Math.floor(most * 10) / 10)} or less it can.`

const WORTH_SAYING_S = 1
/** What is seen of a head may be so old, ms. */
const SEEN_LATE_MS = 250

/** Also where it is not known for a moment how the camera moves. */
export const NO_PATH =
  'This camera cannot follow a path: it must tell where it stands, and be driven at any speed.'

/** What of a preset is left alone stays as it is, and counts as reached. */
function withKept(stored: PresetPose, parts: Parts, now: PresetPose | null): PresetPose {
  const { panDeg, tiltDeg, zoom } = now ?? stored
  return {
    ...stored,
    ...(parts.panTilt ? {} : { panDeg, tiltDeg, encoder: (now ?? stored).encoder }),
    ...(parts.zoom ? {} : { zoom }),
  }
}

export class Travels {
  private watch: TravelWatch | null = null
  /** A recall of the camera's own memory, of which it is not seen where it ends. */
  private sent: Travel | null = null
  private readonly hold: PictureHold
  /** It was seen to report where it is going instead of where it is. */
  tellsGoal = false
  private goal: Goal = {}

  constructor(
    private readonly host: TravelsHost,
    private readonly clock: Clock,
  ) {
    this.hold = new PictureHold(
      (on) => host.freeze(on),
      () => host.heldChanged(),
    )
  }

  get travel(): Travel | null {
    return this.watch?.travel ?? this.sent
  }

  get held(): boolean {
    return this.hold.held
  }

  /** An earlier server may have ended while the picture was held. */
  suspectHeld(): void {
    this.hold.suspect()
  }

  /** Called now and then while the camera answers. */
  checkHeld(): void {
    this.hold.check()
  }

  /** Where a recall leads. */
  goalOf({ pose, parts }: Recall): PresetPose {
    return withKept(pose, parts, this.host.pose())
  }

  /** @param pose of goalOf */
  async begin(
    { id, pace, atLeastSeconds, parts, hold, along }: Recall,
    pose: PresetPose,
  ): Promise<CameraResult> {
    const { host } = this
    const from = host.pose()
    const focal = (zoom: number | null | undefined) => host.lens.focalMm(zoom ?? host.lens.wide)
    const knowsZoom = pose.zoom !== null && from !== null && from.zoom !== null
    const zoomLog = knowsZoom ? Math.log(focal(pose.zoom) / focal(from.zoom)) : 0
    const asked = secondsOf(pace, from, pose, zoomLog)
    const wanted = atLeast(asked, atLeastSeconds)
    const goal = this.goalTo(pose, parts)
    const planned = along
      ? host.followed.along(along)
      : wanted === null
        ? null
        : host.followed.plan(goal, wanted)
    if (along && !planned) return { ok: false, message: NO_PATH }
    const seconds = planned?.trajectory.seconds ?? wanted
    if (planned?.tooShort) host.notice(TOO_SHORT(planned.leastSeconds))
    const smooth = planned?.longestSmoothSeconds ?? null
    // A way that is over in a moment need not be smooth.
    if (wanted !== null && smooth !== null && wanted > smooth && smooth > WORTH_SAYING_S)
      host.notice(TOO_LONG(smooth))
    const watch = new TravelWatch(id, pose, from, host.profile, this.clock.now(), seconds, {
      eased: wanted !== asked,
      along: !!along,
    })
    this.watch = watch
    this.sent = null
    if (hold && host.freezes()) this.hold.start()
    else this.hold.end()
    const { zoom } = pose
    if (!planned) host.yield()
    if (!planned && seconds !== null) {
      const glides = parts.zoom && knowsZoom && host.zoomsApart() && zoom !== null
      if (glides) {
        delete goal.zoom
        host.glideTo(zoom, seconds, () => void host.travelTo({ zoom }))
      }
      goal.seconds = seconds
    }
    this.goal = goal
    host.tell(this.travel)
    const result = planned ? host.followed.start(planned, goal) : await host.travelTo(goal)
    if (result.ok) watch.taken(this.clock.now())
    if (!result.ok && this.watch === watch && watch.fail(result.message)) this.changed()
    return result
  }

  /** It has come on air in the middle of a move: what is left of it becomes gentle, from the speed that it has. */
  ease(seconds: number): void {
    const { watch, host } = this
    if (watch?.travel.state !== 'travelling' || watch.travel.leftMs > seconds * 1000) return
    // It brakes by itself by now, or stands: taken over from where it was last seen it would run past its goal.
    if (watch.travel.leftMs < this.brakingMs + SEEN_LATE_MS) return
    const { seconds: _, ...goal } = this.goal
    const planned = host.followed.plan(goal, seconds)
    if (!planned) return
    host.followed.start(planned, goal)
    watch.goesOn(planned.trajectory.seconds, this.clock.now())
    this.changed()
  }

  /** How long the slower of its axes needs from full speed to rest, ms. */
  private get brakingMs(): number {
    const { pan, tilt } = this.host.profile
    return 1000 * Math.max(...[pan, tilt].map((axis) => topSpeed(axis) / axis.accelDegPerSec2))
  }

  private goalTo(pose: PresetPose, parts: Parts): Goal {
    const { panDeg, tiltDeg, zoom, focusAuto } = pose
    const goal: Goal = {}
    if (parts.panTilt && panDeg !== null && tiltDeg !== null)
      Object.assign(goal, { panDeg, tiltDeg, encoder: this.host.byEncoder() ? pose.encoder : null })
    if (parts.zoom && zoom !== null) goal.zoom = zoom
    if (parts.focus && focusAuto !== null) Object.assign(goal, { focusAuto, focus: pose.focus })
    return goal
  }

  /** The camera was told to go to a memory of its own. */
  sentTo(presetId: string): void {
    this.watch = null
    this.sent = { presetId, state: 'sent', leftMs: 0, totalMs: 0, reason: null, eased: false }
    this.host.tell(this.travel)
  }

  /** A hand, or an order of another kind, takes its place. */
  interrupt(): void {
    this.host.followed.end()
    if (this.watch?.interrupt()) this.changed()
    if (!this.sent) return
    this.sent = null
    this.host.tell(this.travel)
  }

  /** The camera fell silent: nothing that was true of it is claimed any longer. */
  lose(why: string): void {
    if (this.watch?.fail(why)) this.changed()
    if (this.sent) this.interrupt()
  }

  see(pose: LivePose): void {
    const { watch } = this
    if (watch?.see(pose, this.clock.now())) this.changed()
    // An answer that belonged to something else may have been taken for its own.
    if (watch?.wantsAgain) {
      watch.wantsAgain = false
      void this.host.travelTo(this.goal)
    }
    this.tellsGoal ||= this.watch?.tellsGoal === true
  }

  /** Its figures changed, or it is over. */
  private changed(): void {
    if (this.watch?.travel.state !== 'travelling') this.hold.end()
    this.host.tell(this.travel)
  }
}
