/**
 * Where cameras and points may be, from directions alone, before all of it is solved together. Cameras stand
 * almost level, so that between two of them only a heading and a way are unknown: the heading is tried all
 * round, and for each the way follows linearly from rays that must meet.
 */
import { EigenvalueDecomposition, Matrix, solve } from 'ml-matrix'
import type { Vec3 } from '../optics/sphere'
import { along, dot, minus, toWorld } from './placed'

const STEP_DEG = 3

const spun = (d: Vec3, headingDeg: number): Vec3 => toWorld(d, { headingDeg, pitchDeg: 0, rollDeg: 0 })
const cross = (a: Vec3, b: Vec3): Vec3 => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
]

export interface Ray {
  from: Vec3
  /** Of length 1. */
  way: Vec3
}

/** The place that is nearest to these rays. Null where they are parallel. */
export function meeting(rays: readonly Ray[]): Vec3 | null {
  const a = Matrix.zeros(3, 3)
  const b = Matrix.zeros(3, 1)
  for (const { from, way } of rays)
    for (let i = 0; i < 3; i++)
      for (let j = 0; j < 3; j++) {
        const k = (i === j ? 1 : 0) - way[i]! * way[j]!
        a.set(i, j, a.get(i, j) + k)
        b.set(i, 0, b.get(i, 0) + k * from[j]!)
      }
  const { realEigenvalues } = new EigenvalueDecomposition(a, { assumeSymmetric: true })
  if (Math.min(...realEigenvalues) < 1e-7) return null
  const [x, y, z] = solve(a, b).to1DArray() as [number, number, number]
  return [x, y, z]
}

export interface SecondCamera {
  headingDeg: number
  at: Vec3
}

/** Local minima of a function of the heading, the best first. */
function lowest<T extends { cost: number }>(all: readonly T[], most: number): T[] {
  const n = all.length
  return all
    .filter(({ cost }, i) => cost <= all[(i + 1) % n]!.cost && cost <= all[(i + n - 1) % n]!.cost)
    .sort((p, q) => p.cost - q.cost)
    .slice(0, most)
}

const headings = () => Array.from({ length: 360 / STEP_DEG }, (_, i) => i * STEP_DEG)

/**
 * @param pairs directions of the same points in the first and the second camera, each in its own axes
 * @returns where the second may stand, one unit away from the first, which looks along z
 */
export function secondCameras(pairs: readonly (readonly [Vec3, Vec3])[], most: number): SecondCamera[] {
  const tried = headings().map((headingDeg) => {
    const a = Matrix.zeros(3, 3)
    for (const [p, q] of pairs) {
      const normal = cross(p, spun(q, headingDeg))
      for (let i = 0; i < 3; i++)
        for (let j = 0; j < 3; j++) a.set(i, j, a.get(i, j) + normal[i]! * normal[j]!)
    }
    const { realEigenvalues, eigenvectorMatrix } = new EigenvalueDecomposition(a, { assumeSymmetric: true })
    const k = realEigenvalues.indexOf(Math.min(...realEigenvalues))
    const [x, y, z] = eigenvectorMatrix.getColumn(k) as [number, number, number]
    return { headingDeg, cost: realEigenvalues[k]!, way: [x, y, z] as Vec3 }
  })
  return lowest(tried, most).map(({ headingDeg, way }) => {
    const ahead = (at: Vec3) =>
      pairs.filter(([p, q]) => {
        const r = spun(q, headingDeg)
        const place = meeting([
          { from: [0, 0, 0], way: p },
          { from: at, way: r },
        ])
        return place && dot(place, p) > 0 && dot(minus(place, at), r) > 0
      }).length
    const other: Vec3 = [-way[0], -way[1], -way[2]]
    return { headingDeg, at: ahead(way) >= ahead(other) ? way : other }
  })
}

/** A camera that sees places that are known already. */
export function furtherCamera(seen: readonly { own: Vec3; place: Vec3 }[]): SecondCamera | null {
  const tried = headings().flatMap((headingDeg) => {
    const rays = seen.map(({ own, place }) => ({ from: place, way: spun(own, headingDeg) }))
    const at = meeting(rays)
    if (!at) return []
    let cost = 0
    for (const { from, way } of rays) {
      const to = minus(from, at)
      const ahead = dot(to, way)
      const aside = minus(to, along([0, 0, 0], way, ahead))
      // As an angle; what lies behind it counts as wholly off.
      cost += ahead > 0 ? Math.atan2(Math.hypot(...aside), ahead) ** 2 : Math.PI ** 2
    }
    return [{ headingDeg, at, cost }]
  })
  return lowest(tried, 1)[0] ?? null
}
