import { travelSeconds } from '../motion/travel'
import type { LivePose, PresetPose } from './pose'
import { standingOf, type Travel } from './standing'
import { typedNumber } from './typedNumber'

const pose: PresetPose = { panDeg: 10, tiltDeg: -5, zoom: 4000, focusAuto: true, focus: null, encoder: null }
const preset = { id: 'a', pose }
const livePose = (change: Partial<LivePose> = {}): LivePose => ({
  ...pose,
  hfovDeg: 30,
  power: true,
  moving: false,
  held: false,
  late: false,
  atMs: 0,
  ...change,
})
const travel = (change: Partial<Travel>): Travel => ({
  presetId: 'a',
  state: 'travelling',
  leftMs: 500,
  totalMs: 2000,
  reason: null,
  eased: false,
  ...change,
})
const RANGE = { deg: 0.1, zoom: 65 }

test('of a preset in a memory alone it is said that it was sent, and no more', () => {
  const blind = { id: 'a', pose: null }
  expect(standingOf(blind, null, null, RANGE)).toEqual({ kind: 'idle' })
  expect(standingOf(blind, null, travel({ state: 'sent' }), RANGE)).toEqual({ kind: 'sent' })
  expect(standingOf({ ...blind, id: 'b' }, livePose(), travel({ state: 'sent' }), RANGE)).toEqual({
    kind: 'idle',
  })
})

test('a tile says what is true', () => {
  expect(standingOf(preset, livePose(), null, RANGE)).toEqual({ kind: 'here' })
  expect(standingOf(preset, livePose({ moving: true }), null, RANGE)).toEqual({ kind: 'idle' })
  expect(standingOf(preset, livePose({ panDeg: 12 }), null, RANGE)).toEqual({ kind: 'idle' })
  const travelling = standingOf(preset, livePose({ panDeg: 0, moving: true }), travel({}), RANGE)
  expect(travelling).toEqual({ kind: 'travelling', leftMs: 500, share: 0.75, eased: false })
  const arrived = travel({ state: 'arrived' })
  expect(standingOf(preset, livePose({ panDeg: 13.2 }), arrived, RANGE)).toEqual({
    kind: 'off',
    deg: expect.closeTo(3.2),
    zoomOnly: false,
  })
  expect(standingOf(preset, livePose({ zoom: 9000 }), arrived, RANGE)).toMatchObject({
    kind: 'off',
    zoomOnly: true,
  })
  expect(standingOf(preset, null, arrived, RANGE)).toEqual({ kind: 'unknown' })
  expect(standingOf(preset, null, travel({ presetId: 'b' }), RANGE)).toEqual({ kind: 'idle' })
  expect(
    standingOf(preset, livePose({ panDeg: 0 }), travel({ state: 'failed', reason: 'stuck' }), RANGE),
  ).toEqual({ kind: 'failed', reason: 'stuck' })
})

test('digits recall at once only where the number is sure', () => {
  const numbers = [1, 2, 3, 10, 11, 24]
  expect(typedNumber('3', numbers)).toEqual({ kind: 'sure', number: 3 })
  expect(typedNumber('1', numbers)).toEqual({ kind: 'open', typed: '1', number: 1 })
  expect(typedNumber('2', numbers)).toEqual({ kind: 'open', typed: '2', number: 2 })
  expect(typedNumber('24', numbers)).toEqual({ kind: 'sure', number: 24 })
  expect(typedNumber('25', numbers)).toEqual({ kind: 'none', typed: '25' })
  expect(typedNumber('0', numbers)).toEqual({ kind: 'open', typed: '0', number: null })
  expect(typedNumber('03', numbers)).toEqual({ kind: 'sure', number: 3 })
})

test('time of a move: long ones cruise, short ones never reach top speed', () => {
  expect(travelSeconds(100, 50, 100)).toBeCloseTo(2.5)
  expect(travelSeconds(-1, 50, 100)).toBeCloseTo(0.2)
  expect(travelSeconds(0, 50, 100)).toBe(0)
})
