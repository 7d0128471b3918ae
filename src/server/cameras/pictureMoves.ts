/**
 * Moves that are told on the picture: a point to the middle, a box filled, a nudge, a zoom about a point.
 * Each becomes a pose of head and lens, within the limits.
 */
import type { HeadProfile } from '../../core/heads/profile'
import { aimAt, type Box, frameBox, nudged, type PanTilt, zoomedAbout } from '../../core/optics/aim'
import type { Sight } from '../../core/optics/sight'
import type { View } from '../../core/optics/sphere'
import { atLeast, type Pace, QUICK, secondsOf } from '../../core/presets/pace'
import type { Range, Standing } from '../../core/stick/speeds'
import type { Goal } from './body'
import type { CameraResult } from './camera'
import type { Clock } from './clock'
import type { Followed } from './followed'

/** What is left free around a box that is framed, as a share of it on each side. */
const FRAME_MARGIN = 0
/** A notch this soon after the last continues from it, ms. */
const ZOOM_GOES_ON_MS = 700
/** A turn that is told no time takes at least this with a zoom, s. */
const LEAST_TURN_S = 0.15
const NOT_KNOWN: CameraResult = {
  ok: false,
  message: 'It is not known where this camera points: it does not report its position, or has not yet.',
}

/** As the orders have it. */
export interface Travelling {
  pace: Pace | null
  atLeastSeconds: number | null
}

export interface PictureMovesHost {
  readonly profile: HeadProfile
  /** As the operator sees it now. */
  sight(): Sight
  /** Null if it is not known where the camera stands. */
  view(): View | null
  /** The zoom as it was last read. */
  zoom(): number | null
  /** Can the zoom be driven while the head travels? */
  zoomsApart(): boolean
  /** Another order takes the place of what it does. @param goesOn a planned move, from the speed that it has */
  takeOver(goesOn: boolean): void
  /** Where it is, and how fast it runs. */
  motion(): { at: Standing } | null
  readonly followed: Pick<Followed, 'plan' | 'start'>
  glideTo(zoom: number, seconds: number, end: () => void): void
  travelTo(goal: Goal): Promise<CameraResult>
  notice(text: string): void
}

/** The nearest angle within a range; of full turns that are the same, the one that lies within. */
function nearestWithin(deg: number, { min, max }: Range): number {
  const same = [deg, deg - 360, deg + 360].find((d) => d >= min && d <= max)
  return same ?? Math.min(max, Math.max(min, deg))
}

export class PictureMoves {
  /** Where the last notch of a wheel leads. */
  private zooming: { atMs: number; view: View | null } = { atMs: Number.NEGATIVE_INFINITY, view: null }

  constructor(
    private readonly host: PictureMovesHost,
    private readonly clock: Clock,
  ) {}

  aim(u: number, v: number, how: Travelling): Promise<CameraResult> {
    return this.turn((view) => aimAt(view, u, v), how)
  }

  nudge(right: number, up: number, how: Travelling): Promise<CameraResult> {
    return this.turn((view) => nudged(view, right, up), how)
  }

  frame(box: Box, how: Travelling): Promise<CameraResult> {
    const { aspect } = this.host.profile.lens
    return this.turn((view) => frameBox(view, box, FRAME_MARGIN, aspect), how)
  }

  /** To where pan and tilt are zero. */
  home(how: Travelling): Promise<CameraResult> {
    return this.turn(() => this.host.sight().turned({ panDeg: 0, tiltDeg: 0 }), how)
  }

  async zoomAbout(u: number, v: number, factor: number, how: Travelling): Promise<CameraResult> {
    const { host } = this
    const { lens, bounds } = host.sight()
    const now = this.clock.now()
    // Notch by notch, a wheel continues from where the last notch leads.
    const from = now - this.zooming.atMs < ZOOM_GOES_ON_MS ? this.zooming.view : host.view()
    if (!from) return NOT_KNOWN
    const most = bounds.zoomMax
    const magnification = lens.magnification(lens.zoomForHfov(from.hfovDeg)) * factor
    const zoom = Math.min(most, Math.max(lens.wide, lens.zoomForMagnification(magnification)))
    const fov = { hfovDeg: lens.hfovDeg(zoom), vfovDeg: lens.vfovDeg(zoom) }
    const to = zoomedAbout(from, u, v, fov)
    this.zooming = { atMs: now, view: { ...to, ...fov } }
    const seconds = Math.abs(zoom - (host.zoom() ?? zoom)) / host.profile.zoomTravelPerSec
    return this.go(to, zoom, how, Math.max(LEAST_TURN_S, seconds))
  }

  private async turn(
    where: (view: View) => PanTilt & { hfovDeg?: number },
    how: Travelling,
  ): Promise<CameraResult> {
    const { lens } = this.host.sight()
    const view = this.host.view()
    if (!view) return NOT_KNOWN
    const to = where(view)
    const zoom =
      to.hfovDeg === undefined ? null : Math.min(lens.tele, Math.max(lens.wide, lens.zoomForHfov(to.hfovDeg)))
    return this.go(to, zoom, how)
  }

  /** Turns to a pose as the operator sees it, and zooms. */
  private async go(
    seen: PanTilt,
    zoom: number | null,
    { pace, atLeastSeconds }: Travelling,
    panTiltSeconds?: number,
  ): Promise<CameraResult> {
    const { host } = this
    const { bounds, turned } = host.sight()
    const { pan, tilt } = bounds
    const head = turned(seen)
    const panDeg = nearestWithin(head.panDeg, pan)
    const tiltDeg = Math.min(tilt.max, Math.max(tilt.min, head.tiltDeg))
    if (Math.abs(panDeg - head.panDeg) % 360 > 0.05 || Math.abs(tiltDeg - head.tiltDeg) > 0.05)
      host.notice('The camera cannot turn that far: it goes as far as its limits allow.')
    const goal: Goal = { panDeg, tiltDeg, ...(zoom === null ? {} : { zoom }) }
    const motion = host.motion()
    const { lens } = host.sight()
    const zoomLog = motion && zoom !== null ? Math.log(lens.focalMm(zoom) / lens.focalMm(motion.at.zoom)) : 0
    const to = { panDeg, tiltDeg, zoom }
    const timed = atLeast(secondsOf(pace ?? QUICK, motion?.at ?? null, to, zoomLog), atLeastSeconds)
    const planned = timed === null ? null : host.followed.plan(goal, timed)
    host.takeOver(planned !== null)
    if (planned) return host.followed.start(planned, goal)
    const seconds = timed ?? panTiltSeconds
    if (seconds !== undefined) goal.seconds = seconds
    if (zoom === null || timed === null || !host.zoomsApart()) return host.travelTo(goal)
    delete goal.zoom
    host.glideTo(zoom, timed, () => void host.travelTo({ zoom }))
    return host.travelTo(goal)
  }
}
