import fc from 'fast-check'
import * as v from 'valibot'
import { ACTION_NAMES, actionOf, canBind, conflicts, keyOf } from './actions'
import { Controls, USUAL_CONTROLS, usualDevice, usualKnobs } from './controls'
import { Calibrator, deflection, faderOf, Learner, pressed, pushOf, type Reading } from './device'

const reading = (axes: number[], buttons: boolean[] = []): Reading => ({ axes, buttons })

test('the usual keys have no conflicts; a chosen one is told with what it meets', () => {
  expect([...conflicts({})]).toEqual([])
  // Some are for the buttons of a stick alone and have no key.
  const keys = ACTION_NAMES.map((name) => keyOf(name, {})).filter((key) => key !== '')
  expect(keys.every(canBind)).toBe(true)
  expect(keys.length).toBeGreaterThan(30)
  const own = { home: 's', aim: '' } as const
  expect([...conflicts(own)]).toEqual([
    ['store', ['home']],
    ['home', ['store']],
  ])
  expect(actionOf('a', own)).toBeNull()
  expect(actionOf('h', own)).toBeNull()
  expect(['1', 'enter', 'tab'].map(canBind)).toEqual([false, false, false])
})

test('the usual controls are what the file says controls are', () => {
  expect(v.parse(Controls, USUAL_CONTROLS)).toEqual(USUAL_CONTROLS)
  const own = { ...USUAL_CONTROLS, devices: [usualDevice('Pad')], keys: { home: 'q' } }
  expect(v.parse(Controls, JSON.parse(JSON.stringify(own)))).toEqual(own)
  expect(v.is(Controls, { ...own, keys: { nothing: 'q' } })).toBe(false)
  expect(v.is(Controls, { ...own, version: 2 })).toBe(false)
})

test('a worn axis reaches full at both of its ends, and is zero where it rests', () => {
  const raw = fc.double({ min: -1, max: 1, noNaN: true })
  fc.assert(
    fc.property(raw, raw, raw, fc.boolean(), (a, b, x, inverted) => {
      const [low, high] = [Math.min(a, b) - 0.2, Math.max(a, b) + 0.2]
      const centre = (low + high) / 2 + 0.05
      const binding = { kind: 'axis' as const, index: 1, low, centre, high, inverted }
      const at = (value: number) => deflection(reading([0, value]), binding)
      const sign = inverted ? -1 : 1
      expect(at(high)).toBe(sign)
      expect(at(low)).toBe(-sign)
      expect(Math.abs(at(centre))).toBe(0)
      expect(Math.abs(at(x))).toBeLessThanOrEqual(1)
    }),
  )
  expect(deflection(reading([]), usualDevice('x').axes.pan)).toBe(0)
  expect(deflection(reading([Number.NaN]), usualDevice('x').axes.pan)).toBe(0)
})

test('learning: a stick, a button and a hat are told apart, and drift is not a move', () => {
  const learn = (...readings: Reading[]) => {
    const learner = new Learner()
    return readings.map((r) => learner.feed(r)).find((found) => found !== null) ?? null
  }
  const rest = reading([0.04, -0.02, 3.2857], [false, false])
  expect(learn(rest, reading([0.2, -0.3, 3.2857], [false, false]))).toBeNull()
  expect(learn(rest, reading([0.3, -0.9, 3.2857], [false, false]))).toEqual({
    kind: 'axis',
    index: 1,
    centre: -0.02,
    inverted: true,
  })
  expect(learn(rest, reading([0, 0, 3.2857], [false, true]))).toEqual({
    kind: 'button',
    button: { kind: 'button', index: 1 },
  })
  // A knob whose place is not known until it is turned.
  expect(learn(reading([Number.NaN]), reading([0.9]), reading([0.8]))).toBeNull()
  expect(learn(reading([Number.NaN]), reading([-0.8]), reading([0.1]))).toEqual({
    ...{ kind: 'axis', index: 0, centre: -0.8, inverted: false },
  })
  // Up and to the right at first, then right alone.
  const right = learn(
    rest,
    reading([0, 0, -0.7143], [false, false]),
    reading([0, 0, -0.4286], [false, false]),
  )
  expect(right).toEqual({ kind: 'button', button: { kind: 'hat', index: 2, direction: 2 } })
  const hat = (value: number, direction: 0 | 2 | 4 | 6) =>
    pressed(reading([value]), { kind: 'hat', index: 0, direction })
  expect([hat(-1, 0), hat(1, 0), hat(-0.7143, 2), hat(0.1429, 0), hat(1.2857, 0)]).toEqual([
    true,
    true,
    true,
    false,
    false,
  ])
})

test('calibration takes what it sees; a fader is read from end to end; two sticks make a push', () => {
  const calibrator = new Calibrator(0)
  calibrator.feed(reading([0.1]))
  calibrator.feed(reading([0.2]))
  expect(calibrator.result()).toBeNull()
  for (const x of [0.8, -0.6, 0]) calibrator.feed(reading([x]))
  expect(calibrator.result()).toEqual({ low: -0.6, centre: 0.1, high: 0.8 })
  const fader = { kind: 'axis' as const, index: 0, low: -1, centre: 0, high: 1, inverted: false }
  expect([
    faderOf(reading([-1]), fader),
    faderOf(reading([0.5]), fader),
    faderOf(reading([]), fader),
  ]).toEqual([0, 0.75, null])
  const untaught = pushOf(reading([1, -1, 1, -1]), usualKnobs('MIDI Knobs'))
  expect(untaught).toEqual({ pan: 0, tilt: 0, zoom: 0, focus: 0 })
  const push = pushOf(reading([1, 0, 0, -1]), usualDevice('Pad'))
  expect([push.pan, push.tilt, push.zoom]).toEqual([expect.closeTo(1), 0, expect.closeTo(1)])
  expect(pushOf(reading([0.08, 0.08, 0, 0.1]), usualDevice('Pad'))).toEqual({
    pan: 0,
    tilt: 0,
    zoom: 0,
    focus: 0,
  })
})
