/**
 * The recalls of one camera, of which the newest counts: what it travels to, how far it is, how it ends,
 * and the picture that may be held meanwhile.
 */
import type { HeadProfile } from '../../core/heads/profile'
import type { Lens } from '../../core/optics/lens'
import { type Parts, secondsOf } from '../../core/presets/pace'
import type { LivePose, PresetPose } from '../../core/presets/pose'
import type { Travel } from '../../core/presets/standing'
import type { Goal } from './body'
import type { CameraResult, Recall } from './camera'
import type { Clock } from './clock'
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
  glideTo(zoom: number, seconds: number, end: () => void): void
  travelTo(goal: Goal): Promise<CameraResult>
  tell(travel: Travel | null): void
  /** Whether the picture is held has changed. */
  heldChanged(): void
}

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
  async begin({ id, pace, parts, hold }: Recall, pose: PresetPose): Promise<CameraResult> {
    const { host } = this
    const from = host.pose()
    const focal = (zoom: number | null | undefined) => host.lens.focalMm(zoom ?? host.lens.wide)
    const knowsZoom = pose.zoom !== null && from !== null && from.zoom !== null
    const zoomLog = knowsZoom ? Math.log(focal(pose.zoom) / focal(from.zoom)) : 0
    const seconds = secondsOf(pace, from, pose, zoomLog)
    const watch = new TravelWatch(id, pose, from, host.profile, this.clock.now(), seconds)
    this.watch = watch
    this.sent = null
    if (hold && host.freezes()) this.hold.start()
    else this.hold.end()
    const { panDeg, tiltDeg, zoom, focusAuto } = pose
    const glides = seconds !== null && parts.zoom && knowsZoom && host.zoomsApart()
    const goal: Goal = {}
    if (parts.panTilt && panDeg !== null && tiltDeg !== null)
      Object.assign(goal, { panDeg, tiltDeg, encoder: host.byEncoder() ? pose.encoder : null })
    if (parts.zoom && zoom !== null && !glides) goal.zoom = zoom
    if (parts.focus && focusAuto !== null) Object.assign(goal, { focusAuto, focus: pose.focus })
    if (seconds !== null) goal.seconds = seconds
    if (glides && zoom !== null) host.glideTo(zoom, seconds, () => void host.travelTo({ zoom }))
    this.goal = goal
    host.tell(this.travel)
    const result = await host.travelTo(goal)
    if (result.ok) watch.taken(this.clock.now())
    if (!result.ok && this.watch === watch && watch.fail(result.message)) this.changed()
    return result
  }

  /** The camera was told to go to a memory of its own. */
  sentTo(presetId: string): void {
    this.watch = null
    this.sent = { presetId, state: 'sent', leftMs: 0, totalMs: 0, reason: null }
    this.host.tell(this.travel)
  }

  /** A hand, or an order of another kind, takes its place. */
  interrupt(): void {
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
