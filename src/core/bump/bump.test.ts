/** Bumps drawn from seeds, with matrices: the turn, the roll and the lens are told, and mended. */
import { pointOf, rayAt } from '../optics/sphere'
import { seeded } from '../seeded'
import {
  deg,
  gaussOf,
  panned,
  product,
  rad,
  rolled,
  tilted,
  times,
  transposed,
  type V,
} from '../testing/turns'
import { type BumpFound, bumpedView, isBumped, solveBump, type ThenAndNow, turnedPlace } from './bump'

const headAt = (pan: number, tilt: number) => product(panned(rad(pan)), tilted(rad(tilt)))
const unit = (w: V): V => w.map((x) => x / Math.hypot(...w)) as V
const apart = (a: V, b: V) => deg(Math.acos(Math.min(1, a[0] * b[0] + a[1] * b[1] + a[2] * b[2])))

/** Things all round; a camera that sees them at some poses, before and after its mount was turned. */
function world(
  seed: number,
  { pan, tilt, rolls, larger }: { pan: number; tilt: number; rolls: number; larger: number },
) {
  const random = seeded(seed)
  const gauss = gaussOf(random)
  const things = Array.from({ length: 1500 }, () => unit([gauss(), 0.5 * gauss(), gauss()]))
  /** From how the head had a thing to how it has it now. */
  const mount = product(headAt(pan, tilt), rolled(rad(rolls)))
  const focal = 1 / Math.tan(rad(30))
  const see = (thing: V, p: number, t: number, f: number): [number, number] | null => {
    const [x, y, z] = times(transposed(headAt(p, t)), thing)
    const at: [number, number] = [(f * x) / z, (f * y) / z]
    return z > 0 && Math.abs(at[0]) < 1 && Math.abs(at[1]) < 9 / 16 ? at : null
  }
  const pairs: ThenAndNow[] = [
    [-40, -8],
    [0, -5],
    [35, -12],
    [10, -25],
  ].map(([p, t]) => {
    const view = { panDeg: p!, tiltDeg: t!, hfovDeg: 60, vfovDeg: 2 * deg(Math.atan(9 / 16 / focal)) }
    const points = things.flatMap((thing) => {
      const a = see(thing, p!, t!, focal)
      const b = see(times(mount, thing), p!, t!, focal * larger)
      if (!a || !b) return []
      const wild = random() < 0.15
      const slip = () => (wild ? 0.3 * gauss() : 0.0012 * gauss())
      return [[a[0], a[1], b[0] + slip(), b[1] + slip()] as const]
    })
    return { was: view, now: view, points }
  })
  return { mount, pairs, random }
}

test.each([
  { pan: 1.3, tilt: -0.7, rolls: 0, larger: 1 },
  { pan: -9, tilt: 4, rolls: 3, larger: 1 },
  { pan: 14, tilt: -6, rolls: -5, larger: 1.12 },
  { pan: 0, tilt: 0, rolls: 2, larger: 0.9 },
])('$pan right, $tilt up, rolled by $rolls, $larger times as large', (bump) => {
  for (let seed = 1; seed <= 5; seed++) {
    const { mount, pairs, random } = world(seed, bump)
    const found = solveBump(pairs)!
    expect(found.pictures).toBe(4)
    expect(isBumped(found)).toBe(true)
    expect(Math.abs(found.larger / bump.larger - 1)).toBeLessThan(0.006)
    for (let i = 0; i < 20; i++) {
      const at = { panDeg: 120 * random() - 60, tiltDeg: 50 * random() - 35 }
      // What a preset looked at is in the middle again.
      const now = turnedPlace(at, found)
      const was = times(headAt(at.panDeg, at.tiltDeg), [0, 0, 1])
      const looks = times(headAt(now.panDeg, now.tiltDeg), [0, 0, 1])
      expect(apart(times(mount, was), looks)).toBeLessThan(0.12)
      // And a picture of then lies where it now is, roll and all.
      const view = bumpedView({ ...at, hfovDeg: 60, vfovDeg: 36 }, found)
      const corner = times(product(mount, headAt(at.panDeg, at.tiltDeg)), unit([0.4, 0.2, 1]))
      const seen = pointOf(view, corner)!
      expect(Math.hypot(seen.u - 0.4 / Math.tan(rad(30)), seen.v - 0.2 / Math.tan(rad(18)))).toBeLessThan(
        0.01,
      )
      const ray = rayAt(view, seen.u, seen.v) as V
      expect(apart(ray, corner)).toBeLessThan(0.01)
    }
  }
})

test('a camera that stands as it did is left alone; too little is no finding', () => {
  const { pairs } = world(3, { pan: 0, tilt: 0, rolls: 0, larger: 1 })
  expect(isBumped(solveBump(pairs)!)).toBe(false)
  expect(solveBump(pairs.map((pair) => ({ ...pair, points: pair.points.slice(0, 6) })))).toBeNull()
  const random = seeded(9)
  const noise = pairs.map((pair) => ({
    ...pair,
    points: pair.points.map(([a, b]) => [a, b, 2 * random() - 1, random() - 0.5] as const),
  }))
  expect(solveBump(noise) as BumpFound | null).toBeNull()
})
