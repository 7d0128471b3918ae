/** Head profiles as users may write them, and their named controls both ways. */
import fc from 'fast-check'
import * as v from 'valibot'
import { judgeHead, type NudgeSeen } from './check'
import { controlOf, NamedControl, readControl, readControlAnswer, setBytes } from './namedControls'
import { degToUnits, HeadProfile, opened, slotOf, turnedBy, unitsToDeg } from './profile'
import { HEAD_PROFILES, headProfile } from './registry'

const marsh = headProfile('marsh-20x')
const packet = (bytes: readonly number[]) => Uint8Array.from([0x81, ...bytes, 0xff])

test('degrees and encoder steps, out and back, whichever way a head counts', () => {
  const deg = fc.double({ min: -95, max: 95, noNaN: true })
  const zero = fc.integer({ min: -5000, max: 5000 })
  fc.assert(
    fc.property(
      fc.constantFrom(...HEAD_PROFILES),
      deg,
      zero,
      fc.boolean(),
      (profile, at, zeroUnits, reversed) => {
        const axis = { ...profile.pan, zeroUnits, reversed }
        expect(Math.abs(unitsToDeg(axis, degToUnits(axis, at)) - at)).toBeLessThanOrEqual(
          0.5 / axis.unitsPerDeg + 1e-9,
        )
      },
    ),
  )
})

test('without ends it reaches whatever a wrong scale makes of its way', () => {
  expect(degToUnits(opened(marsh).pan, 900)).toBe(72_000)
  expect(degToUnits(marsh.pan, 900)).toBe(170 * 80)
})

test('a turn of a pose turns its encoder values too', () => {
  const pose = {
    panDeg: 10,
    tiltDeg: null,
    zoom: 0,
    focusAuto: true,
    focus: null,
    encoder: { pan: 800, tilt: 5 },
  }
  const reversed = { ...marsh, pan: { ...marsh.pan, reversed: true } }
  expect(turnedBy(marsh, pose, { panDeg: 2, tiltDeg: -1 })).toMatchObject({
    ...{ panDeg: 12, tiltDeg: null },
    encoder: { pan: 960, tilt: -75 },
  })
  expect(turnedBy(reversed, pose, { panDeg: 2, tiltDeg: 0 }).encoder).toEqual({ pan: 640, tilt: 5 })
})

test('memories: from 0 or 1, and none that the camera keeps for itself', () => {
  const head = { ...marsh, memories: 100, memoryOffset: 1 as const, reservedSlots: [{ from: 80, to: 99 }] }
  expect([1, 79, 80, 98, 99, 100, 101, 0].map((n) => slotOf(head, n))).toEqual([
    ...[1, 79, null, null, null, 100, null, null],
  ])
})

test('each named control is set by bytes that are read as just that', () => {
  const { controls } = marsh
  expect(setBytes(controlOf(controls, 'digitalZoom', 'switch')!, true)).toEqual([1, 4, 6, 2])
  expect(readControl(packet([1, 4, 6, 3]), controls)).toEqual({ key: 'digitalZoom', value: false })
  const level = controlOf(controls, 'subjectSize', 'range')!
  for (const value of [1, 2, 3])
    expect(readControl(packet(setBytes(level, value)), controls)).toEqual({ key: 'subjectSize', value })
  expect(readControl(packet([1, 4, 7, 0]), controls)).toBeNull()
  const gamma = v.parse(NamedControl, {
    ...{ kind: 'range', key: 'gamma', label: 'Gamma', group: 'image', min: 0, max: 255 },
    ...{ command: '01 04 5B 00 00 {value:n2}', ask: '04 5B', answer: '00 00 {value:n2}' },
  })
  expect(setBytes(gamma, 0x5a)).toEqual([1, 4, 0x5b, 0, 0, 5, 0x0a])
  expect(readControlAnswer(gamma, [0, 0, 5, 0x0a])).toBe(0x5a)
  expect(readControlAnswer(gamma, [0, 0, 5])).toBeNull()
})

test('what makes no sense is refused, wherever it stands', () => {
  const why = (change: object) => v.safeParse(HeadProfile, { ...marsh, ...change }).success
  expect(why({})).toBe(true)
  expect(why({ pan: { ...marsh.pan, unitsPerDeg: 0 } })).toBe(false)
  expect(why({ pan: { ...marsh.pan, minDeg: 200 } })).toBe(false)
  expect(
    why({
      lens: {
        ...marsh.lens,
        zoomCurve: [
          [0, 4],
          [0, 8],
        ],
      },
    }),
  ).toBe(false)
  expect(why({ memorySpeed: { command: '01 06 {oops', max: 24 } })).toBe(false)
  expect(why({ memorySpeed: { command: '01 7E 01 0B {value:x2}', max: 24 } })).toBe(true)
  const control = { kind: 'switch', key: 'x', label: 'X', group: 'image', off: '01 04 62 03' }
  expect(why({ controls: [{ ...control, on: '01 04 {value:x2}' }] })).toBe(false)
  expect(why({ controls: [{ ...control, on: 'rm -rf' }] })).toBe(false)
})

test('a picture that came late is not believed, and the rest is judged without it', () => {
  const nudge = (way: 1 | -1, turnedDeg: number | null): NudgeSeen => ({
    ...{ axis: 'pan', way, nominalDeg: 10, turnedDeg, before: 0, after: 800 * way },
    ...{ firstMs: 60, betweenMs: [] },
  })
  const kinds = (...turned: number[]) => {
    const pan = turned.map((deg, i) => nudge(i === 0 ? 1 : -1, deg))
    const tilt = pan.map((n) => ({ ...n, axis: 'tilt' as const, turnedDeg: null }))
    return judgeHead(marsh, [...pan, ...tilt]).findings.map((f) => `${f.axis} ${f.kind}`)
  }
  expect(kinds(10, -10)).toEqual(['pan fine', 'tilt fine'])
  expect(kinds(4, -10)).toEqual(['pan fine', 'tilt fine'])
  expect(kinds(-2, -10)).toEqual(['pan fine', 'tilt fine'])
  expect(kinds(5, -5)).toEqual(['pan scale', 'tilt fine'])
})
