/** How a deflection beyond the dead zone becomes a push: a blend of straight and cubic, or a drawn curve. */
import * as v from 'valibot'
import { monotoneCurve } from '../optics/curve'
import { beyondDeadZone, respond } from './shape'

const Share = v.pipe(v.number(), v.minValue(0), v.maxValue(1))

export const Curve = v.variant('kind', [
  /** 0 straight, 1 pure cubic. */
  v.object({ kind: v.literal('blend'), softness: Share }),
  /** Points between the corners (0, 0) and (1, 1), both coordinates rising. */
  v.object({
    kind: v.literal('drawn'),
    points: v.pipe(
      v.array(v.tuple([Share, Share])),
      v.maxLength(8),
      v.check(
        (points) => points.every(([x, y], i) => i === 0 || (x > points[i - 1]![0] && y > points[i - 1]![1])),
        'The points of a curve rise from left to right.',
      ),
      v.check(
        (points) => points.every((p) => p.every((x) => x > 0 && x < 1)),
        'The ends of a curve are fixed.',
      ),
    ),
  }),
])
export type Curve = v.InferOutput<typeof Curve>

export const DEFAULT_CURVE: Curve = { kind: 'blend', softness: 0.65 }

/** 0..1 to 0..1, rising, 0 at 0 and 1 at 1. */
export function curveAt(curve: Curve): (x: number) => number {
  if (curve.kind === 'blend') return (x) => respond(x, curve.softness)
  const { at } = monotoneCurve([[0, 0], ...curve.points, [1, 1]])
  return (x) => Math.min(1, Math.max(0, at(x)))
}

/**
 * Two axes as one stick: the length of the deflection counts, so that diagonals are neither faster nor
 * slower; exactly zero within the dead zone.
 * @returns shares of top speed, -1..1
 */
export function shapeStick(
  x: number,
  y: number,
  deadZone: number,
  respondTo: (x: number) => number,
): { x: number; y: number } {
  const radius = Math.hypot(x, y)
  const inner = beyondDeadZone(Math.min(1, radius), deadZone)
  if (inner === 0 || !Number.isFinite(radius)) return { x: 0, y: 0 }
  const share = respondTo(inner) / radius
  return { x: x * share, y: y * share }
}

/** A single axis through the same dead zone and curve. */
export function shapeOne(x: number, deadZone: number, respondTo: (x: number) => number): number {
  if (!Number.isFinite(x)) return 0
  const inner = beyondDeadZone(Math.min(1, Math.abs(x)), deadZone)
  return inner === 0 ? 0 : Math.sign(x) * respondTo(inner)
}
