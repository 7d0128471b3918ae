import fc from 'fast-check'
import * as v from 'valibot'
import { settingOf } from '../heads/namedControls'
import { controlsOf } from '../heads/pictureControls'
import { HEAD_PROFILES } from '../heads/registry'
import { closedBy, SettingSpec, SettingValue, unsuitable } from './settings'
import { amountOf, amountText, stepAt, stepped, stepsOf, valueFor, valuesOf } from './units'

const common = { key: 'k', group: 'lens' as const, needs: [], usual: null, restarts: false, told: true }
const SWITCH = { kind: 'switch' as const, ...common, label: 'Digital zoom' }
const RANGE = {
  kind: 'range' as const,
  ...common,
  label: 'Gain',
  min: -3,
  max: 33,
  step: 3,
  unit: 'dB',
  marks: [],
}
const CHOICE = {
  ...{ kind: 'choice' as const, ...common, label: 'Mode' },
  options: [
    { value: 'auto', label: 'Automatic' },
    { value: 'manual', label: 'By hand' },
  ],
}

test.each([
  [SWITCH, true, null],
  [SWITCH, 'on', /switched on or off/],
  [RANGE, 33, null],
  [RANGE, 36, /between -3 and 33 dB/],
  [RANGE, true, /between/],
  [CHOICE, 'manual', null],
  [CHOICE, 'shutter', /Automatic, By hand/],
])('%o set to %p', (spec, value, problem) => {
  expect(v.is(SettingSpec, spec)).toBe(true)
  const told = unsuitable(spec, value)
  if (problem === null) expect(told).toBeNull()
  else expect(told).toMatch(problem)
})

test('a value is a switch, a finite number or a short word', () => {
  for (const value of [true, -2.5, 'auto']) expect(v.is(SettingValue, value)).toBe(true)
  for (const value of [null, Number.NaN, Number.POSITIVE_INFINITY, 'x'.repeat(41), {}])
    expect(v.is(SettingValue, value)).toBe(false)
})

test('a level that its mode does not take says with which it is', () => {
  const all = controlsOf(HEAD_PROFILES.find(({ id }) => id === 'marsh-20x')!)
  const specs = all.map((control) => settingOf(control, all)).filter((spec) => spec !== null)
  const why = (key: string, values: Record<string, string | boolean>) =>
    closedBy(specs.find((s) => s.key === key)!, specs, values)
  expect(why('iris', { exposureMode: '0' })).toBe('only with Exposure Manual or Iris')
  expect(why('iris', { exposureMode: '11' })).toBeNull()
  // Not told: the camera decides.
  expect(why('iris', {})).toBeNull()
  expect(why('compensation', { exposureMode: '0', compensationOn: false })).toBe('only with Compensation on')
  expect(why('redGain', { whiteBalance: '0' })).toBe('only with White balance Manual')
})

test.each([
  ['f', 2.8, 'f/2.8'],
  ['f', 11, 'f/11'],
  ['f', 0, 'closed'],
  ['s', 1 / 50, '1/50'],
  ['s', 0.5, '0.5 s'],
  ['dB', -3, '-3 dB'],
  ['K', 3200, '3200 K'],
  ['ND', 0, 'clear'],
  ['ND', 4, '1/16'],
  ['', 7, '7'],
])('%s %p reads %s', (unit, amount, text) => {
  expect(amountText(unit, amount)).toBe(text)
})

test('from a value to its amount and back, and step by step along every scale that comes with us', () => {
  const ranges = HEAD_PROFILES.flatMap((profile) => {
    const all = controlsOf(profile)
    return all.map((c) => settingOf(c, all)).filter((s) => s?.kind === 'range')
  })
  expect(ranges.length).toBeGreaterThan(50)
  fc.assert(
    fc.property(fc.constantFrom(...ranges), fc.double({ min: 0, max: 1, noNaN: true }), (spec, share) => {
      const value = stepped(spec, spec.min, Math.round(share * stepsOf(spec)))
      expect(unsuitable(spec, value)).toBeNull()
      expect(valueFor(spec, amountOf(spec, value))).toBe(value)
      expect(stepped(spec, spec.min, stepAt(spec, value))).toBe(value)
      expect(stepped(spec, value, 1e6)).toBe(spec.max)
    }),
  )
})

test('a scale of a thousand million steps, as a profile may have one, costs no more than any other', () => {
  const wide = { kind: 'range', ...common, label: 'Wide', min: 0, max: 1e9, step: 1, unit: 'dB' } as const
  const spec = {
    ...wide,
    marks: [
      [0, 0],
      [1e9, 40],
    ] as [number, number][],
  }
  expect(valuesOf(spec).length).toBeLessThan(600)
  expect(valueFor(spec, 40)).toBe(1e9)
  expect(Math.abs(amountOf(spec, valueFor(spec, 17)) - 17)).toBeLessThan(0.1)
})
