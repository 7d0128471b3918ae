/** Random timed moves of one head over one link, and what came of them; for the tests and for measuring. */

import type { HeadProfile } from '../core/heads/profile'
import { headProfile } from '../core/heads/registry'
import { logOf, zoomOf } from '../core/motion/follow/followMove'
import { hfovAt, limitsOf, longestSmoothSeconds } from '../core/motion/follow/limits'
import { planMove } from '../core/motion/plan/planMove'
import { resting } from '../core/motion/plan/types'
import { createLens } from '../core/optics/lens'
import { seeded } from '../core/seeded'
import { fieldRig, type Odd } from './fieldRig'
import { type FollowRig, follow, type Measured, type PathPoint, poseOf } from './follow'
import { connects } from './proof'
import type { Over } from './wayLink'

export interface Asked {
  count: number
  seed: number
  /** The longest that is asked for, s. */
  longest?: number
  /** Told of each move, to draw it. */
  onMove?(drawn: Drawn): void
}

export interface MovesOf extends Asked {
  over: Over
  odd?: Odd
  /** 0..1 of the packets, each way. */
  loss?: number
  /** Sent as one absolute order with a speed, instead of being followed. */
  plain?: boolean
  /** What the driver leaves between two packets, ms; by default as for a head of which nothing is known. */
  gapMs?: number
  /** What the driver believes of the head; by default another head's figures, with this one's delays. */
  profile?: HeadProfile
}

/** A move as it was planned and as the head made it. */
export interface Drawn {
  seconds: number
  planned: PathPoint[]
  path: PathPoint[]
}

/** As its profile has it: 60 ms old when it is renewed, every 50 ms, and read a little later, s. */
const LAG_S = 0.085
const SHORTEST_S = 2
/** Over a connection so many packets come late instead, at most. */
export const HELD_UP = 0.03

export type Move = Measured & { seconds: number }

/** Of the independent head. */
export async function randomMoves(options: MovesOf): Promise<Move[]> {
  const { over, odd = {}, loss = 0, seed, plain = false } = options
  const believed = options.profile ?? {
    ...headProfile('common-20x'),
    delaySeconds: (odd.head?.delayMs ?? 60) / 1000,
    reportLagSeconds: LAG_S,
    restartsRamp: odd.head?.restartsRamp ?? false,
  }
  const gap = options.gapMs === undefined ? {} : { gapMs: options.gapMs }
  const profile = { ...believed, ...gap, moves: plain ? ('absolute' as const) : ('followed' as const) }
  const rig = fieldRig({ over, odd, seed, profile, confirmed: true })
  await connects(rig)
  await rig.clock.run(3000)
  rig.way.loss = over === 'tcp' || over === 'serial' ? Math.min(loss, HELD_UP) : loss
  return movesOf(rig, options)
}

/** Those that cannot be smooth are told before they start, and left out. */
export async function movesOf(
  rig: FollowRig,
  { count, seed, longest = 60, onMove }: Asked,
  /** Told when each begins, and how long it is to take, s. */
  begins: (seconds: number) => void = () => {},
): Promise<Move[]> {
  const { profile } = rig
  // Of its own, so that all links are asked for the same moves.
  const random = seeded(seed)
  const lens = createLens(profile.lens)
  const shareOf = (zoom: number) => (zoom - lens.wide) / (lens.tele - lens.wide)
  const found: Move[] = []
  while (found.length < count) {
    const now = rig.truth()
    // As many short ones as long ones.
    const asked = SHORTEST_S * (longest / SHORTEST_S) ** random()
    const reach = Math.min(60, 6 * asked)
    const within = (x: number, min: number, max: number) => Math.min(max, Math.max(min, x))
    const goal = poseOf(rig, {
      pan: within(
        now.pan + (random() - 0.5) * 2 * reach,
        Math.max(-150, profile.pan.minDeg),
        Math.min(150, profile.pan.maxDeg),
      ),
      tilt: within(
        now.tilt + (random() - 0.5) * reach,
        Math.max(-25, profile.tilt.minDeg),
        Math.min(70, profile.tilt.maxDeg),
      ),
      zoom: random() * 0.7,
    })
    const from = lens.wide + now.zoom * (lens.tele - lens.wide)
    const plan = planMove({
      from: {
        pan: resting(now.pan),
        tilt: resting(now.tilt),
        zoom: resting(logOf(lens, from)),
        focus: resting(0),
      },
      to: { pan: goal.panDeg!, tilt: goal.tiltDeg!, zoom: logOf(lens, goal.zoom!), focus: 0 },
      seconds: asked,
      limits: limitsOf(profile, lens, from, goal.zoom!),
      hfovDeg: (log) => hfovAt(profile, log),
    })
    const smooth = longestSmoothSeconds(plan.trajectory, profile, lens, [from, goal.zoom!])
    if (smooth !== null && asked > smooth) continue
    const { seconds } = plan.trajectory
    begins(seconds)
    const measured = await follow(rig, goal, seconds, (s) => {
      const at = plan.trajectory.at(s)
      const zoom = zoomOf(lens, at.zoom.position)
      // The picture's width as it is just then.
      const hfovDeg = lens.hfovDeg(zoom)
      return { pan: at.pan.position, tilt: at.tilt.position, zoom: shareOf(zoom), hfovDeg }
    })
    const { path, ...judgement } = measured
    onMove?.({
      seconds,
      path,
      planned: path.map(({ ms }) => {
        const at = plan.trajectory.at(Math.min(seconds, ms / 1000))
        const zoom = shareOf(zoomOf(lens, at.zoom.position))
        return { ms, pan: at.pan.position, tilt: at.tilt.position, zoom }
      }),
    })
    found.push({ ...judgement, seconds })
    await rig.clock.run(600)
  }
  return found
}

export interface Summary {
  moves: number
  /** Arrived within max(80 ms, 2 % of the time), as a share. */
  onTime: number
  /** In the middle of the moves; before its time is negative. */
  lateMedianMs: number
  lateP95Ms: number
  spreadP95Ms: number
  endMostDeg: number
  /** Moves that keep to their plan half of the time, and those that do always, as shares; see `keeps`. */
  keptMiddle: number
  keptWorst: number
  /** Off the plan: the median of all moves, and the worst of their worst, degrees. */
  offMedianDeg: number
  offP95Deg: number
  /** Largest leap of speed, picture widths a frame, in the middle of the moves and at worst. */
  leapMedian: number
  leadMedianMs: number
  leapP95: number
}

export function summed(moves: readonly Move[]): Summary {
  const sorted = (of: (m: (typeof moves)[number]) => number) => moves.map(of).sort((a, b) => a - b)
  const at = (list: number[], share: number) =>
    list[Math.min(list.length - 1, Math.floor(list.length * share))]!
  const inTime = moves.filter((m) => Math.abs(m.lateMs) <= Math.max(80, 20 * m.seconds))
  return {
    moves: moves.length,
    onTime: inTime.length / moves.length,
    lateMedianMs: at(
      sorted((m) => m.lateMs),
      0.5,
    ),
    lateP95Ms: at(
      sorted((m) => Math.abs(m.lateMs)),
      0.95,
    ),
    spreadP95Ms: at(
      sorted((m) => m.spreadMs),
      0.95,
    ),
    endMostDeg: at(
      sorted((m) => m.endDeg),
      1,
    ),
    keptMiddle: moves.filter((m) => m.keeps.middle).length / moves.length,
    keptWorst: moves.filter((m) => m.keeps.worst).length / moves.length,
    offMedianDeg: at(
      sorted((m) => m.offMedianDeg),
      0.5,
    ),
    offP95Deg: at(
      sorted((m) => m.offMostDeg),
      0.95,
    ),
    leadMedianMs: at(
      sorted((m) => m.leadMs),
      0.5,
    ),
    leapMedian: at(
      sorted((m) => m.leap),
      0.5,
    ),
    leapP95: at(
      sorted((m) => m.leap),
      0.95,
    ),
  }
}
