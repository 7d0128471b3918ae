import fc from 'fast-check'
import { angleBetweenDeg } from '../optics/sphere'
import { turnedPlace } from './bump'
import { turnBetween } from './turnBetween'

const deg = (min: number, max: number) => fc.double({ min, max, noNaN: true })
const place = fc.record({ panDeg: deg(-170, 170), tiltDeg: deg(-60, 60) })

test('it brings the one to the other, and turns everything else with it as a whole', () => {
  fc.assert(
    fc.property(place, deg(-9, 9), deg(-9, 9), place, place, (was, pan, tilt, a, b) => {
      const now = { panDeg: was.panDeg + pan, tiltDeg: was.tiltDeg + tilt }
      const bump = turnBetween(was, now)
      expect(angleBetweenDeg(turnedPlace(was, bump), now)).toBeLessThan(1e-4)
      const [c, d] = [turnedPlace(a, bump), turnedPlace(b, bump)]
      expect(Math.abs(angleBetweenDeg(c, d) - angleBetweenDeg(a, b))).toBeLessThan(1e-3)
    }),
  )
})

test('where the view is level, a turn to the side is a turn to the side everywhere', () => {
  const bump = turnBetween({ panDeg: 40, tiltDeg: -5 }, { panDeg: 43, tiltDeg: -5 })
  expect(bump.panDeg).toBeCloseTo(3, 9)
  expect(bump.tiltDeg).toBeCloseTo(0, 9)
  expect(bump.rollDeg).toBeCloseTo(0, 9)
})
