import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import fc from 'fast-check'
import * as v from 'valibot'
import { headProfile } from '../heads/registry'
import { COMMAND_SET_FORMAT, CommandSet } from './commandSet'
import { fillTemplate, parseTemplate, readTemplate } from './template'
import { angleToUnits, driveValues, lensToUnits, unitsToAngle, unitsToLens } from './units'

const whole = fc.integer({ min: -32768, max: 32767 })

test('what is filled in is read back, in decimals and in hex, with noise around it', () => {
  const noise = fc.string({ maxLength: 12 }).filter((s) => !s.includes('@'))
  fc.assert(
    fc.property(whole, whole, fc.nat(9999), noise, noise, (pan, tilt, zoom, before, after) => {
      const text = '@pos {pan:x4}{tilt:x4} z={zoom:4};'
      const sent = fillTemplate(text, { pan, tilt, zoom })
      const read = readTemplate(text, `${before}${sent}${after}`)
      expect([read?.pan, read?.tilt, Number(read?.zoom)]).toEqual([String(pan), String(tilt), zoom])
    }),
  )
})

test('an open brace, a missing value and a strange answer are told, never guessed', () => {
  expect(() => parseTemplate('{pan')).toThrow(SyntaxError)
  expect(() => parseTemplate('a } b')).toThrow(SyntaxError)
  expect(() => parseTemplate('{pan:99}')).toThrow(SyntaxError)
  expect(() => fillTemplate('{pan}', {})).toThrow(RangeError)
  expect(readTemplate('zoom={zoom};', 'zoom=;')).toBeNull()
  expect(readTemplate('', 'anything')).toBeNull()
})

test('reading takes time in proportion to the text, whatever an answer holds', () => {
  const steps = jest.spyOn(String.prototype, 'startsWith')
  readTemplate('aa{pan}b{tilt}c', 'aa1b'.repeat(16_000))
  expect(steps.mock.calls.length).toBeLessThan(1000)
  steps.mockRestore()
})

const set = (change: object) => ({
  format: COMMAND_SET_FORMAT,
  version: 1,
  id: 'sluice',
  name: 'Sluice',
  transport: 'udp',
  port: 4000,
  actions: { drive: { text: 'D {panSpeed} {tiltSpeed}\r' } },
  speeds: {
    pan: { negative: -24, still: 0, positive: 24 },
    tilt: { negative: 20, still: 10, positive: 0 },
  },
  ...change,
})

test('a set is refused where a request holds what it cannot, or lacks what it needs', () => {
  const why = (change: object) => {
    const parsed = v.safeParse(CommandSet, set(change))
    return parsed.success ? null : parsed.issues[0].message
  }
  expect(why({})).toBeNull()
  const wharf = readFileSync(join(__dirname, '../../../demo/wharf-lens.json'), 'utf8')
  expect(v.is(CommandSet, JSON.parse(wharf))).toBe(true)
  expect(why({ actions: { home: { text: 'H {pan}' } } })).toMatch(/may stand in "home"/)
  expect(why({ actions: { goTo: { text: '{pan} {tilt}' } } })).toMatch(/needs the ranges/)
  expect(why({ transport: 'http' })).toMatch(/each action has a path/)
  expect(why({ actions: {} })).toMatch(/at least one action/)
  expect(why({ version: 2 })).toMatch(/newer version/)
  expect(why({ format: 'else' })).toMatch(/no command set/)
  // A line break in a path would write headers of its own.
  expect(why({ transport: 'http', actions: { home: { path: '/a\r\nX: y' } } })).toMatch(/path/)
})

test('the least push moves, full is full, no push stands still, also on a scale that runs backwards', () => {
  const parsed = v.parse(CommandSet, set({}))
  fc.assert(
    fc.property(fc.double({ min: -1, max: 1, noNaN: true }), (push) => {
      const { panSpeed, panStep } = driveValues(parsed, 'pan', push)
      const { tiltSpeed } = driveValues(parsed, 'tilt', push)
      if (push === 0) expect([panSpeed, tiltSpeed]).toEqual([0, 10])
      else {
        expect(Math.sign(Number(panSpeed))).toBe(Math.sign(push))
        expect(Math.sign(10 - Number(tiltSpeed))).toBe(Math.sign(push))
      }
      expect(panStep).toBe(Math.abs(Number(panSpeed)))
    }),
  )
  expect(driveValues(parsed, 'tilt', 1).tiltSpeed).toBe(0)
  expect(driveValues(parsed, 'pan', -1).panSpeed).toBe(-24)
})

test('angles and lens positions go out and come back within one unit', () => {
  const ranged = v.parse(
    CommandSet,
    set({
      ranges: {
        pan: { fromDeg: -170, toDeg: 170, from: 0x0000, to: 0xffff },
        tilt: { fromDeg: 90, toDeg: -30, from: 0, to: 9600 },
        zoom: { from: 999, to: 0 },
      },
    }),
  )
  const profile = headProfile('staithe-30x')
  fc.assert(
    fc.property(fc.double({ min: 0, max: 1, noNaN: true }), (share) => {
      const [pan, tilt] = [-170 + 340 * share, -30 + 120 * share]
      expect(Math.abs(unitsToAngle(ranged, 'pan', angleToUnits(ranged, 'pan', pan)) - pan)).toBeLessThan(
        0.006,
      )
      expect(Math.abs(unitsToAngle(ranged, 'tilt', angleToUnits(ranged, 'tilt', tilt)) - tilt)).toBeLessThan(
        0.013,
      )
      const zoom = 16384 * share
      const back = unitsToLens(ranged, profile, 'zoom', lensToUnits(ranged, profile, 'zoom', zoom))
      expect(Math.abs(back - zoom)).toBeLessThanOrEqual(16384 / 999)
    }),
  )
})
