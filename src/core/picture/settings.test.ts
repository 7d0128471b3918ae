import * as v from 'valibot'
import { SettingSpec, SettingValue, unsuitable } from './settings'

const common = { key: 'k', group: 'lens' as const }
const SWITCH = { kind: 'switch' as const, ...common, label: 'Digital zoom' }
const RANGE = { kind: 'range' as const, ...common, label: 'Gain', min: -3, max: 33, step: 3, unit: 'dB' }
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
