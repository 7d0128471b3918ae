import { seeded } from '../seeded'
import { aimAt, frameBox, nearTurn, nudged, poseToSee, zoomedAbout } from './aim'
import { vfovOf } from './lens'
import { pointOf, rayAt, type View } from './sphere'

const ASPECT = 16 / 9
const random = seeded(9)
const between = (a: number, b: number) => a + (b - a) * random()
const view = (hfovDeg = between(2, 65)): View => ({
  panDeg: between(-170, 170),
  tiltDeg: between(-25, 75),
  hfovDeg,
  vfovDeg: vfovOf(hfovDeg, ASPECT),
})
const COUNT = 100_000

test('aim brings any point of the picture to its centre, and aiming twice is aiming once', () => {
  let worst = 0
  for (let i = 0; i < COUNT; i++) {
    const v = view()
    const [x, y] = [between(-1, 1), between(-1, 1)]
    const at = aimAt(v, x, y)
    const seen = pointOf({ ...v, ...at }, rayAt(v, x, y))!
    const again = aimAt({ ...v, ...at }, 0, 0)
    worst = Math.max(worst, Math.abs(seen.u), Math.abs(seen.v))
    worst = Math.max(worst, Math.abs(again.panDeg - at.panDeg), Math.abs(again.tiltDeg - at.tiltDeg))
    if (Math.abs(at.panDeg - v.panDeg) > 180) throw new Error('the long way round')
  }
  expect(worst).toBeLessThan(1e-9)
})

test('a direction can be put at any point, out and back', () => {
  let worst = 0
  for (let i = 0; i < COUNT; i++) {
    const v = view()
    const ray = rayAt(v, between(-1, 1), between(-1, 1))
    const [x, y] = [between(-1, 1), between(-1, 1)]
    const at = poseToSee(ray, x, y, v, v)
    if (!at) continue
    const seen = pointOf({ ...v, ...at }, ray)!
    worst = Math.max(worst, Math.abs(seen.u - x), Math.abs(seen.v - y))
  }
  expect(worst).toBeLessThan(1e-9)
})

test('a frame holds its box whole, touches its margin, and the same box framed again stays', () => {
  let worst = 0
  for (let i = 0; i < COUNT / 4; i++) {
    const v = view(between(5, 65))
    const [u0, v0] = [between(-1, 0.6), between(-1, 0.6)]
    const box = { u0, v0, u1: u0 + between(0.1, 0.4), v1: v0 + between(0.1, 0.4) }
    const to = frameBox(v, box, 0, ASPECT)
    const corners = [
      [box.u0, box.v0],
      [box.u1, box.v0],
      [box.u0, box.v1],
      [box.u1, box.v1],
    ].map(([x, y]) => pointOf(to, rayAt(v, x!, y!))!)
    const reach = Math.max(...corners.map((c) => Math.max(Math.abs(c.u), Math.abs(c.v))))
    worst = Math.max(worst, Math.abs(reach - 1))
    const whole = frameBox(to, { u0: -1, v0: -1, u1: 1, v1: 1 }, 0, ASPECT)
    worst = Math.max(worst, Math.abs(whole.hfovDeg - to.hfovDeg), Math.abs(whole.panDeg - to.panDeg))
  }
  expect(worst).toBeLessThan(1e-9)
})

test('zooming about a point leaves it where it is; a nudge moves the middle by its share of the width', () => {
  let worst = 0
  for (let i = 0; i < COUNT / 10; i++) {
    const v = view()
    const [x, y] = [between(-1, 1), between(-1, 1)]
    const hfovDeg = v.hfovDeg * between(0.3, 1)
    const fov = { hfovDeg, vfovDeg: vfovOf(hfovDeg, ASPECT) }
    const seen = pointOf({ ...zoomedAbout(v, x, y, fov), ...fov }, rayAt(v, x, y))!
    worst = Math.max(worst, Math.abs(seen.u - x), Math.abs(seen.v - y))
  }
  expect(worst).toBeLessThan(1e-9)
  const level: View = { panDeg: 0, tiltDeg: 0, hfovDeg: 40, vfovDeg: vfovOf(40, ASPECT) }
  const moved = pointOf({ ...level, ...nudged(level, 0.05, 0) }, rayAt(level, 0, 0))!
  expect(moved.u).toBeCloseTo(0.1, 2)
  const raised = pointOf({ ...level, ...nudged(level, 0, 0.05) }, rayAt(level, 0, 0))!
  expect(raised.v / ASPECT).toBeCloseTo(0.1, 2)
  expect([nearTurn(350, -20), nearTurn(-190, 170)]).toEqual([-10, 170])
})
