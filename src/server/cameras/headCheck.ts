/** Carries out the first check of a head: four small nudges, seen in the positions that it reports. */
import { type HeadCheck, judgeHead, type NudgeSeen } from '../../core/heads/check'
import type { HeadProfile } from '../../core/heads/profile'
import { createLens } from '../../core/optics/lens'
import { aimed } from '../../core/presets/pose'
import { PUSH_AT_REST, type Push, pushSpeeds } from '../../core/stick/speeds'
import type { Camera } from './camera'
import type { Clock } from './clock'

const PUSH = 0.55
const DRIVEN_MS = 900
/** Until the head has come to rest, and its report of it has come. */
const SETTLES_MS = 900
const LOOK_EVERY_MS = 20
/** A drive comes up to its speed, and runs on for a moment: that evens out but for this, s. */
const LOST_S = 0.1

export interface CheckHost {
  readonly camera: Pick<Camera, 'pose'>
  readonly profile: HeadProfile
  readonly clock: Clock
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

async function nudged(host: CheckHost, axis: 'pan' | 'tilt', way: 1 | -1): Promise<NudgeSeen | null> {
  const { camera, clock, profile } = host
  const units = () => camera.pose?.encoder?.[axis] ?? null
  const before = units()
  const push = { ...PUSH_AT_REST, [axis]: PUSH * way }
  const speeds = pushSpeeds(push, profile, createLens(profile.lens), aimed(camera.pose))
  const nominal = Math.abs(axis === 'pan' ? speeds.panDegPerSec : speeds.tiltDegPerSec)
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
  await watch(DRIVEN_MS)
  if (!host.push(PUSH_AT_REST)) return null
  await watch(SETTLES_MS)
  const after = units()
  if (after === null) return null
  return {
    ...{ axis, way, before, after },
    nominalDeg: nominal * (DRIVEN_MS / 1000 - LOST_S),
    firstMs: changes.length > 0 ? Math.round(changes[0]! - from) : null,
    betweenMs: changes.slice(1).map((at, i) => Math.round(at - changes[i]!)),
  }
}
