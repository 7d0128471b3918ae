import fc from 'fast-check'
import { headProfile } from '../../heads/registry'
import { createLens } from '../../optics/lens'
import { zoomOf } from './followMove'
import { pathSeen } from './pathSeen'
import { previewOf } from './preview'

const profile = headProfile('common-20x')
const lens = createLens(profile.lens)
const viewAt = (panDeg: number, tiltDeg: number, zoom: number) => ({
  panDeg,
  tiltDeg,
  hfovDeg: lens.hfovDeg(zoomOf(lens, zoom)),
  vfovDeg: lens.vfovDeg(zoomOf(lens, zoom)),
})
const near = fc.double({ min: -12, max: 12, noNaN: true })

test('it begins in the middle and ends in the middle of the last frame, which is smaller by the zoom', () => {
  fc.assert(
    fc.property(near, near, fc.double({ min: 0.1, max: 0.8, noNaN: true }), (pan, tilt, share) => {
      const from = { panDeg: 0, tiltDeg: 0, zoom: lens.wide }
      const to = { panDeg: pan, tiltDeg: tilt, zoom: lens.wide + (lens.tele - lens.wide) * share }
      const { trajectory } = previewOf(profile, lens, from, to, 8)
      const { middle, frame } = pathSeen(trajectory, viewAt)
      expect(middle[0]!.u).toBeCloseTo(0, 6)
      expect(middle[0]!.v).toBeCloseTo(0, 6)
      // Straight ahead of the wide view a turn of the head is the tangent of its angle.
      const end = middle.at(-1)!
      const ray = [
        Math.sin((pan * Math.PI) / 180) * Math.cos((tilt * Math.PI) / 180),
        Math.sin((tilt * Math.PI) / 180),
        Math.cos((pan * Math.PI) / 180) * Math.cos((tilt * Math.PI) / 180),
      ] as const
      const edge = (deg: number) => Math.tan((deg * Math.PI) / 360)
      expect(end.u).toBeCloseTo(ray[0] / ray[2] / edge(lens.hfovDeg(lens.wide)), 5)
      expect(end.v).toBeCloseTo(ray[1] / ray[2] / edge(lens.vfovDeg(lens.wide)), 5)
      const wide = Math.max(...frame!.map((p) => p.u)) - Math.min(...frame!.map((p) => p.u))
      const smaller = edge(lens.hfovDeg(to.zoom)) / edge(lens.hfovDeg(lens.wide))
      expect(wide / 2).toBeGreaterThan(0.9 * smaller)
      expect(wide / 2).toBeLessThan(1.3 * smaller)
    }),
  )
})

test('what ends behind the camera has no frame, and its way only for as long as it is in front', () => {
  const from = { panDeg: -60, tiltDeg: 0, zoom: lens.wide }
  const { trajectory } = previewOf(profile, lens, from, { panDeg: 90, tiltDeg: 0, zoom: lens.wide }, null)
  const { middle, frame } = pathSeen(trajectory, viewAt)
  expect(frame).toBeNull()
  expect(middle.length).toBeGreaterThan(5)
  expect(middle.length).toBeLessThan(49)
})
