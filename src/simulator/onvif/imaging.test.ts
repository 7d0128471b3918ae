/** The imaging service both ways: what the server sets at a stand-in is what it reads there afterwards. */
import type { Light } from '../../core/cameras/light'
import { headProfile } from '../../core/heads/registry'
import {
  getFocusStatus,
  readFocusPosition,
  readImaging,
  setFocusMode,
  setLight,
} from '../../core/onvif/imaging'
import { child, envelope, parseEnvelope } from '../../core/onvif/soap'
import { Head } from '../body/head'
import { focusStatus, imagingSettings, setImagingSettings } from './imaging'

const newHead = () => new Head(headProfile('mere-18x'), { panDeg: 0, tiltDeg: 0, zoom: 0 }, () => 8, 0)
const read = (head: Head) => readImaging(parseEnvelope(envelope(imagingSettings(head))))
const settingsOf = (request: string) =>
  child(parseEnvelope(envelope(request)).body, 'SetImagingSettings', 'ImagingSettings')
const set = (head: Head, request: string) => setImagingSettings(head, settingsOf(request))

const BY_HAND: Light = {
  exposure: { mode: 'manual', shutter: 5000, iris: 10.7023, gain: 9, bright: null },
  whiteBalance: { mode: 'manual', red: 100, blue: 150 },
}

test('exposure and white balance by hand are set, read as they were set, and given back to the automatics', () => {
  const head = newHead()
  const before = read(head).light!
  expect(before).toMatchObject({
    exposure: { mode: 'auto', shutter: null },
    whiteBalance: { mode: 'auto', red: null },
  })
  expect(set(head, setLight('eye', BY_HAND))).toBe(true)
  expect(read(head).light).toEqual(BY_HAND)
  // Darker and redder than the lamps ask for: it is seen in the picture too.
  expect(head.eye.tint.stops).toBeLessThan(0)
  expect(set(head, setLight('eye', before))).toBe(true)
  expect(read(head).light).toEqual(before)
  expect(head.eye.tint).toMatchObject({ stops: 0, red: 1, blue: 1 })
})

test('a preset without white balance leaves it alone; what is out of range is refused', () => {
  const head = newHead()
  set(head, setLight('eye', BY_HAND))
  expect(set(head, setLight('eye', { ...BY_HAND, whiteBalance: null }))).toBe(true)
  expect(read(head).light).toEqual(BY_HAND)
  expect(
    set(head, setLight('eye', { exposure: { ...BY_HAND.exposure!, gain: 400 }, whiteBalance: null })),
  ).toBe(false)
})

test('the focus mode and where the focus stands', () => {
  const head = newHead()
  expect(set(head, setFocusMode('eye', false))).toBe(true)
  expect(read(head).focusAuto).toBe(false)
  expect(getFocusStatus('eye')).toContain('<timg:VideoSourceToken>eye<')
  const { near, far } = head.profile.focus
  const at = readFocusPosition(parseEnvelope(envelope(focusStatus(head))))!
  expect(far + at * (near - far)).toBeCloseTo(head.focus.position, -1)
  expect(readFocusPosition(parseEnvelope(envelope('<timg:GetStatusResponse/>')))).toBeNull()
})
