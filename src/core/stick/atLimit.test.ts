import { atLimit } from './atLimit'

const bounds = { pan: { min: -60, max: 60 }, tilt: { min: -20, max: 30 } }

test('at an end of pan or tilt, and nowhere else', () => {
  const at = (panDeg: number | null, tiltDeg: number | null) => atLimit(bounds, { panDeg, tiltDeg })
  expect([at(0, 0), at(59.9, 0), at(-60, 0), at(0, 29.8), at(0, -20)]).toEqual([
    false,
    true,
    true,
    true,
    true,
  ])
  // What is not known is no reason to shake a hand.
  expect([at(null, null), at(null, 30)]).toEqual([false, true])
})
