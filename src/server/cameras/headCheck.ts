/** Carries out the first check of a head: four small nudges, seen in the positions that it reports and in its picture. */
import type { Mount } from '../../core/cameras/connection'
import { panSign, tiltSign } from '../../core/cameras/mount'
import { type HeadCheck, judgeHead, judgeRanges, type NudgeSeen } from '../../core/heads/check'
import type { HeadProfile } from '../../core/heads/profile'
import { createLens } from '../../core/optics/lens'
import { aimed } from '../../core/presets/pose'
import { PUSH_AT_REST, type Push, pushSpeeds } from '../../core/stick/speeds'
import type { Camera } from './camera'
import type { Clock } from './clock'

const PUSH = 0.55
/** So far, as a share of the picture, that what was seen before is still in it. */
const KEEPS_IN_SIGHT = 0.2
const SHORTEST_MS = 300
const DRIVEN_MS = 900
/** Until the head has come to rest, and its report of it has come. */
const SETTLES_MS = 900
const LOOK_EVERY_MS = 20
/** A drive comes up to its speed, and runs on for a moment: that evens out but for this, s. */
const LOST_S = 0.1

export interface CheckHost {
  readonly camera: Pick<Camera, 'pose' | 'ranges'>
  readonly profile: HeadProfile
  readonly clock: Clock
  readonly mount: Mount
  /** Its picture as it is now; null if it has none. */
  look(): Promise<Uint8Array | null>
  /** How far what is in the first picture has moved in the second, as shares, right and down positive; null if it cannot be told. */
  shift(before: Uint8Array, after: Uint8Array): Promise<{ dx: number; dy: number } | null>
  /** @returns whether the hand has this camera */
  push(push: Push): boolean
}

const NUDGES = [
  ['pan', 1],
  ['pan', -1],
  ['tilt', 1],
  ['tilt', -1],
] as const

/** @returns a sentence where it cannot be done */
export async function checkHead(host: CheckHost): Promise<HeadCheck | string> {
  const { ranges } = host.camera
  if (ranges) return judgeRanges(host.profile, ranges)
  if (!host.camera.pose?.encoder)
    return 'This camera does not tell where its head stands as the head counts, so there is nothing to check it by.'
  const seen: NudgeSeen[] = []
  try {
    for (const [axis, way] of NUDGES) {
      const nudge = await nudged(host, axis, way)
      if (!nudge) return 'Somebody else drives this camera, or it stopped answering. Try again.'
      seen.push(nudge)
    }
  } finally {
    host.push(PUSH_AT_REST)
  }
  return judgeHead(host.profile, seen)
}

const signOf = (mount: Mount, axis: 'pan' | 'tilt') => (axis === 'pan' ? panSign(mount) : tiltSign(mount))

/** The angle that its picture shows along an axis, degrees. */
function fovOf({ camera, profile }: CheckHost, axis: 'pan' | 'tilt'): number {
  const hfovDeg = camera.pose?.hfovDeg ?? createLens(profile.lens).hfovDeg(profile.lens.zoomCurve[0]![0])
  if (axis === 'pan') return hfovDeg
  return (2 * Math.atan(Math.tan((hfovDeg * Math.PI) / 360) / profile.lens.aspect) * 180) / Math.PI
}

/** How far the camera turned, as the operator sees it: what was in the middle went the other way. */
async function turnSeen(
  host: CheckHost,
  axis: 'pan' | 'tilt',
  before: Uint8Array,
  fovDeg: number,
): Promise<number | null> {
  const after = await host.look()
  const shift = after && (await host.shift(before, after))
  if (!shift) return null
  const share = axis === 'pan' ? -shift.dx : shift.dy
  return (Math.atan(2 * share * Math.tan((fovDeg * Math.PI) / 360)) * 180) / Math.PI
}

async function nudged(host: CheckHost, axis: 'pan' | 'tilt', way: 1 | -1): Promise<NudgeSeen | null> {
  const { camera, clock, profile } = host
  const units = () => camera.pose?.encoder?.[axis] ?? null
  const before = units()
  const push = { ...PUSH_AT_REST, [axis]: PUSH * way }
  const speeds = pushSpeeds(push, profile, createLens(profile.lens), aimed(camera.pose))
  const nominal = Math.abs(axis === 'pan' ? speeds.panDegPerSec : speeds.tiltDegPerSec)
  const fov = fovOf(host, axis)
  const inSight = nominal > 0 ? (KEEPS_IN_SIGHT * fov) / nominal : 0
  const seenBefore = await host.look()
  const drivenMs = seenBefore
    ? Math.min(DRIVEN_MS, Math.max(SHORTEST_MS, 1000 * (inSight + LOST_S)))
    : DRIVEN_MS
  const from = clock.now()
  const changes: number[] = []
  let last = before
  const watch = async (ms: number) => {
    for (const end = clock.now() + ms; clock.now() < end; ) {
      await new Promise<void>((resolve) => clock.after(LOOK_EVERY_MS, resolve))
      const now = units()
      if (now !== null && now !== last) {
        changes.push(clock.now())
        last = now
      }
    }
  }
  // What does not tell where it stands is not set in motion.
  if (before === null || !host.push(push)) return null
  await watch(drivenMs)
  if (!host.push(PUSH_AT_REST)) return null
  await watch(SETTLES_MS)
  const after = units()
  if (after === null) return null
  const turn = seenBefore ? await turnSeen(host, axis, seenBefore, fov) : null
  const sign = signOf(host.mount, axis)
  return {
    ...{ axis, before, after },
    // As the head has it: what hangs upside down is driven the other way.
    way: (way * sign) as 1 | -1,
    turnedDeg: turn === null ? null : turn * sign,
    nominalDeg: nominal * (drivenMs / 1000 - LOST_S),
    firstMs: changes.length > 0 ? Math.round(changes[0]! - from) : null,
    betweenMs: changes.slice(1).map((at, i) => Math.round(at - changes[i]!)),
  }
}
