import { axisHeld, knobTurned, letGoOf, takeInHand } from './inHand'

test('a knob turns what was turned last, in whole steps and without losing any; a spare axis turns it steadily', () => {
  const turned: number[] = []
  const setting = { steps: 17, by: (steps: number) => void turned.push(steps) }
  knobTurned(1)
  takeInHand(setting)
  for (let i = 0; i < 100; i++) knobTurned(0.01)
  expect(turned.reduce((a, b) => a + b, 0)).toBeGreaterThanOrEqual(16)
  expect(turned.every((steps) => Number.isInteger(steps))).toBe(true)
  turned.length = 0
  // At rest an axis trembles: that is no turn.
  for (let i = 0; i < 250; i++) axisHeld(0.1, 0.008)
  expect(turned).toEqual([])
  for (let i = 0; i < 125; i++) axisHeld(-1, 0.008)
  expect(turned.reduce((a, b) => a + b, 0)).toBeLessThanOrEqual(-13)
  letGoOf(setting)
  turned.length = 0
  knobTurned(1)
  expect(turned).toEqual([])
})
