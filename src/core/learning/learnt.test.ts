/** From what was learnt to the profile: places stay places, gaps are filled as the rest differs, nothing falls. */
import * as v from 'valibot'
import { HeadProfile, unitsToDeg } from '../heads/profile'
import { headProfile } from '../heads/registry'
import { createLens } from '../optics/lens'
import { type HeadLearnt, profileLearnt, together } from './learnt'
import { learntRows } from './told'

const BEFORE = headProfile('common-20x')
const NOTHING: HeadLearnt = { at: '2026-11-27T10:00:00Z', profile: BEFORE.id, pan: {}, tilt: {} }
const sure = (value: number) => ({ value, sigma: Math.abs(value) * 0.001 })

test('what was not learnt stays as it was', () => {
  const { pan, tilt, ...rest } = profileLearnt(BEFORE, NOTHING)
  const { pan: p, tilt: t, ...others } = BEFORE
  expect(rest).toEqual(others)
  for (const [now, was] of [
    [pan, p],
    [tilt, t],
  ] as const) {
    expect(now.unitsPerDeg).toBeCloseTo(was.unitsPerDeg, 4)
    expect(now.minDeg).toBeCloseTo(was.minDeg, 1)
    expect(
      now.speedsDegPerSec.map((s, i) => s / was.speedsDegPerSec[i]!).every((k) => Math.abs(k - 1) < 1e-3),
    ).toBe(true)
  }
})

test('a head that counts to the left, with other steps, ends and a tilt that is off', () => {
  const learnt: HeadLearnt = {
    ...NOTHING,
    pan: { degPerStep: sure(-0.0125), ends: [-13_600, 12_000], drivesReversed: true },
    tilt: { degPerStep: sure(0.02) },
    tiltAtZeroDeg: { value: 1.5, sigma: 0.05 },
  }
  const after = profileLearnt(BEFORE, learnt)
  expect(v.is(HeadProfile, after)).toBe(true)
  expect(after.pan).toMatchObject({
    unitsPerDeg: 80,
    reversed: true,
    drivesReversed: true,
    minDeg: -150,
    maxDeg: 170,
  })
  // Where the profile had zero it looks 1.5 degrees up.
  expect(unitsToDeg(after.tilt, BEFORE.tilt.zeroUnits)).toBeCloseTo(1.5, 1)
  const rows = learntRows(BEFORE, after, learnt)
  expect(rows.find(({ key }) => key === 'pan-way')).toMatchObject({
    before: 'right',
    after: 'left',
    changed: true,
  })
  expect(rows.find(({ key }) => key === 'pan-scale')).toMatchObject({ after: '80', sure: '± 0.2 %' })
})

test('speeds that were not measured differ as the rest does, and none falls from step to step', () => {
  const own = BEFORE.pan.speedsDegPerSec
  const found = own.map((s, i) => (i === 3 ? null : sure(s * 1.2 * BEFORE.pan.unitsPerDeg)))
  found[6] = sure(own[4]! * BEFORE.pan.unitsPerDeg)
  const { speedsDegPerSec } = profileLearnt(BEFORE, { ...NOTHING, pan: { stepsPerSec: found } }).pan
  expect(speedsDegPerSec[3]! / own[3]!).toBeCloseTo(1.2, 2)
  expect(speedsDegPerSec.every((s, i) => i === 0 || s >= speedsDegPerSec[i - 1]!)).toBe(true)
})

test('where the zoom could not be seen to its end the curve goes on as the profile has it', () => {
  const lens = createLens(BEFORE.lens)
  const half = BEFORE.lens.sensorWidthMm / 2
  const focals = [0, 4000, 9000].map((zoom) => ({ zoom, focal: sure((1.1 * lens.focalMm(zoom)) / half) }))
  const after = createLens(profileLearnt(BEFORE, { ...NOTHING, focals }).lens)
  expect(after.tele).toBe(lens.tele)
  expect(after.focalMm(lens.tele) / lens.focalMm(lens.tele)).toBeCloseTo(1.1, 3)
  expect(after.focalMm(4000) / lens.focalMm(4000)).toBeCloseTo(1.1, 4)
})

test('a step that is done again takes the place of what it said before; another profile begins anew', () => {
  const first = together(null, {
    ...NOTHING,
    pan: { degPerStep: sure(0.01), ends: [-5, 5] },
    repeatsDeg: 0.1,
  })
  const again = together(first, { ...NOTHING, pan: { degPerStep: sure(0.02) } })
  expect(again).toMatchObject({ pan: { degPerStep: sure(0.02), ends: [-5, 5] }, repeatsDeg: 0.1 })
  expect(together(first, { ...NOTHING, profile: 'other' })).toEqual({ ...NOTHING, profile: 'other' })
})
