/** What cameras have measured of their own heads and lenses. */
import { eq } from 'drizzle-orm'
import * as v from 'valibot'
import { type HeadProfile, unitsOf, unitsToDeg } from '../../core/heads/profile'
import { HeadLearnt } from '../../core/learning/learnt'
import type { Limits } from '../../core/stick/speeds'
import type { Database } from './database'
import { putHeads, restatePresets } from './heads'
import { camera, headLearnt } from './schema'

type Uses = Pick<Database, 'insert' | 'delete' | 'select'>

export async function readHeadLearnt(db: Uses, cameraId: string): Promise<HeadLearnt | null> {
  const [row] = await db.select().from(headLearnt).where(eq(headLearnt.cameraId, cameraId))
  const parsed = v.safeParse(HeadLearnt, row?.data)
  return parsed.success ? parsed.output : null
}

export async function keepHeadLearnt(db: Uses, cameraId: string, data: HeadLearnt): Promise<void> {
  await db
    .insert(headLearnt)
    .values({ cameraId, data })
    .onConflictDoUpdate({ target: headLearnt.cameraId, set: { data } })
}

export async function dropHeadLearnt(db: Uses, cameraId: string): Promise<void> {
  await db.delete(headLearnt).where(eq(headLearnt.cameraId, cameraId))
}

/** Limits are places of the head: they stay where they were while its degrees change. */
function limitsWith(limits: Limits, before: HeadProfile, after: HeadProfile): Limits {
  const moved = (axis: 'pan' | 'tilt', deg: number | null) =>
    deg === null ? null : unitsToDeg(after[axis], unitsOf(before[axis], deg))
  const sorted = (a: number | null, b: number | null) =>
    a !== null && b !== null && a > b ? ([b, a] as const) : ([a, b] as const)
  const flipped = (axis: 'pan' | 'tilt') => before[axis].reversed !== after[axis].reversed
  const pair = (axis: 'pan' | 'tilt', low: number | null, high: number | null) => {
    const [a, b] = [moved(axis, low), moved(axis, high)]
    return flipped(axis) ? sorted(b, a) : sorted(a, b)
  }
  const [panMinDeg, panMaxDeg] = pair('pan', limits.panMinDeg, limits.panMaxDeg)
  const [tiltMinDeg, tiltMaxDeg] = pair('tilt', limits.tiltMinDeg, limits.tiltMaxDeg)
  return { panMinDeg, panMaxDeg, tiltMinDeg, tiltMaxDeg }
}

/**
 * A camera gets the profile that it has learnt: presets and limits keep their places, and what was learnt of its
 * speeds with the former one is forgotten.
 */
export async function takeLearnt(
  db: Database,
  where: { venueId: string; cameraId: string; limits: Limits | null; confirmed: boolean },
  { before, after }: { before: HeadProfile; after: HeadProfile },
): Promise<void> {
  const { venueId, cameraId, limits, confirmed } = where
  await db.transaction(async (tx) => {
    await putHeads(tx, venueId, [after])
    await restatePresets(tx, [cameraId], after, confirmed ? before : null)
    await tx
      .update(camera)
      .set({
        headProfile: after.id,
        learnt: null,
        headConfirmed: true,
        ...(limits ? { limits: limitsWith(limits, before, after) } : {}),
      })
      .where(eq(camera.id, cameraId))
    await dropHeadLearnt(tx, cameraId)
  })
}
