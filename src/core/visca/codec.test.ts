import fc from 'fast-check'
import { decodeCommand, encodeCommand, type ViscaCommand } from './commands'
import {
  type Answer,
  decodeAnswer,
  decodeInquiry,
  encodeAnswer,
  encodeInquiry,
  type InquiryKind,
} from './inquiries'
import { decodeDatagram, encodeDatagram, readControl } from './ip'
import { isPacket } from './packet'
import { decodeReply, encodeReply, type Reply } from './replies'
import { lightOf, SETTINGS, settingsFor } from './settings'

const hex = (bytes: Uint8Array) =>
  Buffer.from(bytes)
    .toString('hex')
    .toUpperCase()
    .replace(/(..)(?=.)/g, '$1 ')
const bytes = (text: string) => Uint8Array.from(Buffer.from(text.replace(/ /g, ''), 'hex'))

const GOLDEN: [string, ViscaCommand, number?][] = [
  ['81 01 06 01 0A 08 02 03 FF', { kind: 'ptDrive', panStep: 10, tiltStep: 8, pan: 1, tilt: 0 }],
  ['81 01 06 01 0A 08 03 03 FF', { kind: 'ptDrive', panStep: 10, tiltStep: 8, pan: 0, tilt: 0 }],
  [
    '81 01 06 02 0C 0A 00 04 0B 00 0F 0E 00 00 FF',
    { kind: 'ptAbsolute', panStep: 12, tiltStep: 10, pan: 0x04b0, tilt: -0x0200 },
  ],
  ['83 01 04 3F 02 05 FF', { kind: 'memory', action: 'recall', slot: 5 }, 3],
  ['81 01 04 47 02 0A 03 0C FF', { kind: 'zoomTo', position: 0x2a3c }],
  ['81 01 04 00 02 FF', { kind: 'power', on: true }],
  ['81 01 06 04 FF', { kind: 'ptHome' }],
  ['81 01 04 07 25 FF', { kind: 'zoomDrive', direction: 1, step: 5 }],
  ['81 01 04 07 00 FF', { kind: 'zoomDrive', direction: 0, step: 0 }],
  ['81 01 04 08 31 FF', { kind: 'focusDrive', direction: -1, step: 1 }],
  ['81 01 04 38 03 FF', { kind: 'focusMode', auto: false }],
  ['81 01 04 18 01 FF', { kind: 'focusOnePush' }],
  ['81 01 7E 01 0A 00 02 FF', { kind: 'tallyLamp', on: true }],
  ['81 01 04 62 02 FF', { kind: 'freeze', on: true }],
  ['81 01 04 39 0A FF', { kind: 'set', setting: 'exposureMode', value: 0x0a }],
  ['81 01 04 43 00 00 09 0C FF', { kind: 'set', setting: 'redGain', value: 0x9c }],
  ['81 22 FF', { kind: 'cancel', socket: 2 }],
]

test.each(GOLDEN.map(([text, c, address]) => [text, c, address ?? 1] as const))(
  '%s',
  (text, command, address) => {
    expect(hex(encodeCommand(command, address))).toBe(text)
    expect(decodeCommand(bytes(text))).toEqual(command)
  },
)

test('the golden drive command, framed with number 7', () => {
  const payload = encodeCommand(GOLDEN[0]![1])
  const framed = encodeDatagram({ type: 'command', sequence: 7, payload })
  expect(hex(framed)).toBe('01 00 00 09 00 00 00 07 81 01 06 01 0A 08 02 03 FF')
  expect(decodeDatagram(framed)).toEqual({ type: 'command', sequence: 7, payload })
})

const int = (min: number, max: number) => fc.integer({ min, max })
const direction = fc.constantFrom(-1 as const, 0 as const, 1 as const)
const panTilt = {
  panStep: int(1, 24),
  tiltStep: int(1, 20),
  pan: int(-0x8000, 0x7fff),
  tilt: int(-0x8000, 0x7fff),
}
const command: fc.Arbitrary<ViscaCommand> = fc.oneof(
  fc.record({ kind: fc.constantFrom('ptAbsolute' as const, 'ptRelative' as const), ...panTilt }),
  fc.record({
    kind: fc.constant('ptDrive' as const),
    panStep: int(1, 24),
    tiltStep: int(1, 24),
    pan: direction,
    tilt: direction,
  }),
  fc.record({ kind: fc.constantFrom('zoomTo' as const, 'focusTo' as const), position: int(0, 0xffff) }),
  fc.record({
    kind: fc.constantFrom('zoomDrive' as const, 'focusDrive' as const),
    direction: fc.constantFrom(1 as const, -1 as const),
    step: int(0, 7),
  }),
  fc.record({
    kind: fc.constant('memory' as const),
    action: fc.constantFrom('set' as const, 'recall' as const, 'clear' as const),
    slot: int(0, 127),
  }),
  fc.record({
    kind: fc.constant('set' as const),
    setting: fc.constantFrom(...SETTINGS),
    value: int(0, 127),
  }),
)

test('commands come back as they went, as whole packets', () => {
  fc.assert(
    fc.property(command, int(1, 7), (c, address) => {
      const packet = encodeCommand(c, address)
      expect(isPacket(packet)).toBe(true)
      expect(decodeCommand(packet)).toEqual(c)
    }),
    { numRuns: 2000 },
  )
})

const answer: fc.Arbitrary<Answer> = fc.oneof(
  fc.record({ kind: fc.constant('power' as const), on: fc.boolean() }),
  fc.record({ kind: fc.constant('focusMode' as const), auto: fc.boolean() }),
  fc.record({ kind: fc.constant('ptPosition' as const), pan: panTilt.pan, tilt: panTilt.tilt }),
  fc.record({
    kind: fc.constantFrom('zoomPosition' as const, 'focusPosition' as const),
    position: int(0, 0xffff),
  }),
  fc.record({ kind: fc.constantFrom(...SETTINGS), value: int(0, 127) }),
)

test('answers come back as they went; other replies too', () => {
  fc.assert(
    fc.property(answer, int(1, 7), (a, address) => {
      expect(decodeInquiry(encodeInquiry(a.kind, address))).toBe(a.kind)
      const reply = decodeReply(encodeAnswer(a, address))
      expect(reply?.kind).toBe('answer')
      expect(decodeAnswer(a.kind, (reply as Extract<Reply, { kind: 'answer' }>).packet)).toEqual(a)
    }),
  )
  for (const reply of [
    { kind: 'ack', socket: 1 },
    { kind: 'completed', socket: 2 },
    { kind: 'error', socket: 1, error: 'buffer-full' },
    { kind: 'error', socket: 0, error: 'syntax' },
  ] as const) {
    expect(decodeReply(encodeReply(reply, 2))).toEqual(reply)
  }
})

test('exposure and white balance come back from the levels that they are set by', () => {
  const level = int(0, 255)
  const exposure = fc.record({
    exposureMode: fc.constantFrom(0x00, 0x03, 0x0a, 0x0b, 0x0d),
    whiteBalance: fc.constantFrom(0, 1, 2, 3, 5),
    shutter: level,
    iris: level,
    gain: level,
    bright: level,
    redGain: level,
    blueGain: level,
  })
  fc.assert(
    fc.property(exposure, (levels) => {
      const light = lightOf(levels)!
      const set = settingsFor(light)
      // A mode comes before the levels that it leaves to the hand, and no other level is touched.
      expect(set[0]![0]).toBe('exposureMode')
      for (const [setting, value] of set) expect(levels[setting]).toBe(value)
      expect(lightOf({ ...levels, ...Object.fromEntries(set) })).toEqual(light)
    }),
  )
  expect(lightOf({ exposureMode: 0x77 })).toBeNull()
})

test('random and mutated bytes never throw, and what is read can be written again', () => {
  const kinds: InquiryKind[] = ['power', 'ptPosition', 'zoomPosition', 'focusMode', 'version', 'ptTopSpeeds']
  const mutated = fc.tuple(command, fc.nat(), int(0, 255)).map(([c, at, value]) => {
    const packet = encodeCommand(c)
    packet[at % packet.length] = value
    return packet
  })
  fc.assert(
    fc.property(fc.oneof(fc.uint8Array({ maxLength: 40 }), mutated), (raw) => {
      const read = decodeCommand(raw)
      if (read && read.kind !== 'zoomDrive' && read.kind !== 'focusDrive') {
        expect(decodeCommand(encodeCommand(read))).toEqual(read)
      }
      decodeReply(raw)
      decodeInquiry(raw)
      for (const kind of kinds) decodeAnswer(kind, raw)
      const datagram = decodeDatagram(raw)
      if (datagram) expect(encodeDatagram(datagram)).toEqual(raw)
      readControl(raw)
    }),
    { numRuns: 20_000 },
  )
})
