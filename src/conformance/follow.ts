/**
 * Timed moves against the independent camera, in virtual time: what is asked for, and what the head then truly did.
 * Angles in degrees, zoom as a share of its range, times in ms.
 */
import type { HeadProfile } from '../core/heads/profile'
import { logOf, zoomOf } from '../core/motion/follow/followMove'
import { createLens } from '../core/optics/lens'
import { ALL_PARTS } from '../core/presets/pace'
import type { PresetPose } from '../core/presets/pose'
import type { OneCamera } from '../server/cameras/oneCamera'
import type { HandClock } from '../server/cameras/testing/handClock'

export interface Measured {
  /**
   * When it is last seen to move: how much after its time, or, negative, before its plan, ms, of the axis that is furthest
   * off. A plan glides into its end, so that its last moments are not seen either.
   */
  lateMs: number
  /** Between the first and the last axis to arrive, each against its plan, ms. */
  spreadMs: number
  /** At the end, degrees. */
  endDeg: number
  /** Off the plan while it moved, degrees: half of the time less, and at most. */
  offMedianDeg: number
  offMostDeg: number
  /** Half of the time within 0.5 % of the picture or two steps of the head, and always within 2 % or four. */
  keeps: { middle: boolean; worst: boolean }
  /** How far it is ahead of its plan while it moves, ms, in the middle. */
  leadMs: number
  /** The largest change of its speed over the screen from one frame to the next, picture widths a frame. */
  leap: number
  /** Why it was refused; empty where it was not. */
  said: string
  /** What the camera's travel says at the end. */
  state: string | null
}

const FRAME_MS = 40
export const SAMPLE_MS = 20

/** A camera at a bad way, in virtual time, and where it truly points. */
export interface FollowRig {
  camera: OneCamera
  clock: HandClock
  /** What the driver believes of it. */
  profile: HeadProfile
  /** The zoom as a share of its range. */
  truth(): { pan: number; tilt: number; zoom: number }
  /** One step of the head's own counting, degrees. */
  stepDeg: number
}

/** @param to zoom as the share of the range in the logarithm of the focal length */
export function poseOf(
  rig: Pick<FollowRig, 'profile'>,
  { pan, tilt, zoom }: { pan: number; tilt: number; zoom: number },
): PresetPose {
  const lens = createLens(rig.profile.lens)
  const [wide, tele] = [logOf(lens, lens.wide), logOf(lens, lens.tele)]
  const at = zoomOf(lens, wide + (tele - wide) * zoom)
  return { panDeg: pan, tiltDeg: tilt, zoom: at, focusAuto: null, focus: null, encoder: null }
}

export interface PathPoint {
  /** Since it was asked for. */
  ms: number
  pan: number
  tilt: number
  /** Share of the range. */
  zoom: number
}

const AXES = ['pan', 'tilt', 'zoom'] as const
type Axis = (typeof AXES)[number]
/** Below this nothing is seen to move from one sample to the next. */
const STILL = { pan: 0.004, tilt: 0.004, zoom: 0.0002 }

export interface Planned {
  pan: number
  tilt: number
  /** Share of the range. */
  zoom: number
  hfovDeg: number
}

/** What of a path, sampled every 20 ms and some seconds longer than the move, was as it was planned. */
export function judged(
  path: readonly PathPoint[],
  goal: { panDeg: number; tiltDeg: number },
  seconds: number,
  planned: (s: number) => Planned,
  /** One step of the head's own counting, degrees. */
  stepDeg: number,
): Omit<Measured, 'said' | 'state'> {
  const last = path.at(-1)!
  const step = { pan: stepDeg, tilt: stepDeg, zoom: 1 / 400 }
  /** When it was last seen to move. */
  const rests = (axis: Axis, at: (p: PathPoint) => number) =>
    path.findLast((p, i) => i > 0 && Math.abs(at(p) - at(path[i - 1]!)) > STILL[axis])?.ms ?? 0
  const late = (axis: Axis) => {
    const plan = rests(axis, ({ ms }) => planned(Math.min(seconds, ms / 1000))[axis])
    const head = rests(axis, (p) => p[axis])
    return Math.min(0, head - plan) + Math.max(0, head - seconds * 1000)
  }
  const moved = (axis: Axis) => Math.abs(path[0]![axis] - last[axis]) > 12 * step[axis]
  const those = AXES.filter(moved)
  // One that hardly moves counts where no other does.
  const lates = (those.length > 0 ? those : AXES).map(late)
  const offs = path
    .filter(({ ms }) => ms <= seconds * 1000)
    .map((p) => {
      const plan = planned(p.ms / 1000)
      const deg = Math.hypot((p.pan - plan.pan) * Math.cos((p.tilt * Math.PI) / 180), p.tilt - plan.tilt)
      return { deg, share: deg / plan.hfovDeg, steps: deg / stepDeg }
    })
  const median = (list: number[]) => [...list].sort((a, b) => a - b)[list.length >> 1]!
  const frames = path.filter((_, i) => i % (FRAME_MS / SAMPLE_MS) === 0)
  const speeds = frames.slice(1).map((p, i) => {
    const before = frames[i]!
    const { hfovDeg } = planned(p.ms / 1000)
    return [(p.pan - before.pan) / hfovDeg, (p.tilt - before.tilt) / hfovDeg] as const
  })
  const leap = Math.max(
    ...speeds.slice(1).map(([x, y], i) => Math.hypot(x - speeds[i]![0], y - speeds[i]![1])),
  )
  const leads = path
    .filter(({ ms }) => ms > 600 && ms < seconds * 1000 - 600)
    .map((p) => {
      const [a, b] = [planned(p.ms / 1000), planned(p.ms / 1000 + 0.05)]
      const [x, y] = [b.pan - a.pan, b.tilt - a.tilt]
      return (50 * ((p.pan - a.pan) * x + (p.tilt - a.tilt) * y)) / Math.max(1e-9, x * x + y * y)
    })
  const [middle, worst] = [median(offs.map((o) => o.deg)), Math.max(...offs.map((o) => o.deg))]
  const shareMiddle = median(offs.map((o) => o.share))
  const shareWorst = Math.max(...offs.map((o) => o.share))
  return {
    lateMs: lates.reduce((a, b) => (Math.abs(b) > Math.abs(a) ? b : a)),
    spreadMs: Math.max(...lates) - Math.min(...lates),
    endDeg: Math.max(Math.abs(last.pan - goal.panDeg), Math.abs(last.tilt - goal.tiltDeg)),
    offMedianDeg: middle,
    offMostDeg: worst,
    keeps: {
      middle: shareMiddle <= 0.005 || middle <= 2 * stepDeg,
      worst: shareWorst <= 0.02 || worst <= 4 * stepDeg,
    },
    leadMs: leads.length > 0 ? median(leads) : 0,
    leap,
  }
}

/** Goes there as `recall` would, and watches the head itself. @param planned where it should be, by the time since */
export async function follow(
  rig: FollowRig,
  goal: PresetPose,
  seconds: number,
  planned: (s: number) => Planned,
): Promise<Measured & { path: PathPoint[] }> {
  const { camera, clock, truth } = rig
  const pace = { kind: 'timed', seconds } as const
  const startMs = clock.now()
  let said = ''
  void camera.recall({ id: 'p', pose: goal, light: null, pace, parts: ALL_PARTS, hold: false }).then((r) => {
    if (!r.ok) said = r.message
  })
  const path: PathPoint[] = []
  const until = startMs + seconds * 1000 + 2500
  while (clock.now() < until) {
    path.push({ ms: clock.now() - startMs, ...truth() })
    await clock.run(SAMPLE_MS)
  }
  const { panDeg, tiltDeg } = goal
  const found = judged(path, { panDeg: panDeg!, tiltDeg: tiltDeg! }, seconds, planned, rig.stepDeg)
  return { ...found, said, state: camera.travel?.state ?? null, path }
}
