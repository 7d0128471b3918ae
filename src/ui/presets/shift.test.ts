import fc from 'fast-check'
import { headProfile } from '../../core/heads/registry'
import { createLens } from '../../core/optics/lens'
import { shiftedPlace, shiftOf, shiftWords } from './shift'

const lens = createLens(headProfile('marsh-20x').lens)
const number = (min: number, max: number) => fc.double({ min, max, noNaN: true })
const mount = fc.record({ upsideDown: fc.boolean(), mirrored: fc.boolean() })
const pose = fc.record({
  panDeg: number(-150, 150),
  tiltDeg: number(-28, 60),
  zoom: number(0, 16384),
})

test('a shift that was measured at a preset puts its middle where it was measured, however the camera hangs', () => {
  fc.assert(
    fc.property(number(-0.7, 0.7), number(-0.7, 0.7), pose, mount, (u, v, at, hung) => {
      const shift = shiftOf({ u, v }, at, lens, hung)
      const place = shiftedPlace(shift, at, lens, hung)!
      expect(Math.hypot(place.u - u, place.v - v)).toBeLessThan(1e-6)
    }),
  )
})

test('zoomed in, the same shift is seen more; nothing is nowhere', () => {
  const hung = { upsideDown: false, mirrored: false }
  const bump = (panDeg: number, tiltDeg: number) => ({ bump: { panDeg, tiltDeg, rollDeg: 0, larger: 1 } })
  const place = (zoom: number, panDeg = 1.3) =>
    shiftedPlace(bump(panDeg, -0.7), { panDeg: 10, tiltDeg: -5, zoom }, lens, hung)!
  expect(place(14_000).u).toBeGreaterThan(4 * place(2000).u)
  expect(place(2000).u).toBeGreaterThan(0)
  expect(place(2000).v).toBeLessThan(0)
  expect(shiftedPlace(bump(170, 0), { panDeg: 0, tiltDeg: 0, zoom: 0 }, lens, hung)).toBeNull()
  expect(shiftWords({ panDeg: -1.24, tiltDeg: 0.7 })).toBe('1.2° left, 0.7° up')
})
