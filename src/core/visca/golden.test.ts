/** Every command, inquiry and reply of the codec as bytes written down by hand, from the tables of docs/protocols.md. */
import { decodeCommand, encodeCommand, type ViscaCommand } from './commands'
import {
  type Answer,
  decodeAnswer,
  decodeInquiry,
  encodeAnswer,
  encodeInquiry,
  type InquiryKind,
} from './inquiries'
import { decodeReply, encodeReply, type Reply } from './replies'

const bytes = (text: string) => Uint8Array.from(text.split(' ').map((b) => Number.parseInt(b, 16)))
const text = (b: Uint8Array) => [...b].map((x) => x.toString(16).toUpperCase().padStart(2, '0')).join(' ')

const COMMANDS: [string, ViscaCommand][] = [
  ['81 01 04 00 02 FF', { kind: 'power', on: true }],
  ['81 01 04 00 03 FF', { kind: 'power', on: false }],
  ['81 01 06 01 0A 08 02 03 FF', { kind: 'ptDrive', panStep: 10, tiltStep: 8, pan: 1, tilt: 0 }],
  ['81 01 06 01 0A 08 01 02 FF', { kind: 'ptDrive', panStep: 10, tiltStep: 8, pan: -1, tilt: -1 }],
  ['81 01 06 01 01 01 03 01 FF', { kind: 'ptDrive', panStep: 1, tiltStep: 1, pan: 0, tilt: 1 }],
  ['81 01 06 01 0A 08 03 03 FF', { kind: 'ptDrive', panStep: 10, tiltStep: 8, pan: 0, tilt: 0 }],
  [
    '81 01 06 02 0C 0A 00 04 0B 00 0F 0E 00 00 FF',
    { kind: 'ptAbsolute', panStep: 12, tiltStep: 10, pan: 0x4b0, tilt: -0x200 },
  ],
  [
    '81 01 06 03 0C 0A 0F 0F 0F 06 00 00 00 0A FF',
    { kind: 'ptRelative', panStep: 12, tiltStep: 10, pan: -10, tilt: 10 },
  ],
  ['81 01 06 04 FF', { kind: 'ptHome' }],
  ['81 01 06 05 FF', { kind: 'ptReset' }],
  [
    '81 01 06 07 00 01 00 04 0B 00 0F 0E 00 00 FF',
    { kind: 'limitSet', corner: 'upRight', pan: 1200, tilt: -512 },
  ],
  [
    '81 01 06 07 00 00 0F 0F 0F 0F 00 00 00 01 FF',
    { kind: 'limitSet', corner: 'downLeft', pan: -1, tilt: 1 },
  ],
  ['81 01 06 07 01 01 07 0F 0F 0F 07 0F 0F 0F FF', { kind: 'limitClear', corner: 'upRight' }],
  ['81 01 04 07 00 FF', { kind: 'zoomDrive', direction: 0, step: 0 }],
  ['81 01 04 07 25 FF', { kind: 'zoomDrive', direction: 1, step: 5 }],
  ['81 01 04 07 37 FF', { kind: 'zoomDrive', direction: -1, step: 7 }],
  ['81 01 04 47 02 0A 03 0C FF', { kind: 'zoomTo', position: 0x2a3c }],
  ['81 01 04 06 02 FF', { kind: 'digitalZoom', on: true }],
  ['81 01 04 08 00 FF', { kind: 'focusDrive', direction: 0, step: 0 }],
  ['81 01 04 08 22 FF', { kind: 'focusDrive', direction: 1, step: 2 }],
  ['81 01 04 08 33 FF', { kind: 'focusDrive', direction: -1, step: 3 }],
  ['81 01 04 48 01 02 03 04 FF', { kind: 'focusTo', position: 0x1234 }],
  ['81 01 04 38 02 FF', { kind: 'focusMode', auto: true }],
  ['81 01 04 38 03 FF', { kind: 'focusMode', auto: false }],
  ['81 01 04 18 01 FF', { kind: 'focusOnePush' }],
  ['81 01 04 3F 00 07 FF', { kind: 'memory', action: 'clear', slot: 7 }],
  ['81 01 04 3F 01 07 FF', { kind: 'memory', action: 'set', slot: 7 }],
  ['81 01 04 3F 02 05 FF', { kind: 'memory', action: 'recall', slot: 5 }],
  ['81 01 04 35 05 FF', { kind: 'set', setting: 'whiteBalance', value: 5 }],
  ['81 01 04 43 00 00 05 0A FF', { kind: 'set', setting: 'redGain', value: 0x5a }],
  ['81 01 04 44 00 00 05 0B FF', { kind: 'set', setting: 'blueGain', value: 0x5b }],
  ['81 01 04 39 03 FF', { kind: 'set', setting: 'exposureMode', value: 3 }],
  ['81 01 04 4A 00 00 01 02 FF', { kind: 'set', setting: 'shutter', value: 0x12 }],
  ['81 01 04 4B 00 00 01 01 FF', { kind: 'set', setting: 'iris', value: 0x11 }],
  ['81 01 04 4C 00 00 00 03 FF', { kind: 'set', setting: 'gain', value: 3 }],
  ['81 01 04 4D 00 00 01 00 FF', { kind: 'set', setting: 'bright', value: 0x10 }],
  ['81 01 04 62 02 FF', { kind: 'freeze', on: true }],
  ['81 01 7E 01 0A 00 02 FF', { kind: 'tallyLamp', on: true }],
  ['81 01 7E 01 0A 00 03 FF', { kind: 'tallyLamp', on: false }],
  ['81 01 7E 04 1A 00 02 FF', { kind: 'tallyGreen', on: true }],
  ['81 01 0A 02 02 01 FF', { kind: 'tallyState', state: 'blinks' }],
  ['81 01 0A 02 02 02 FF', { kind: 'tallyState', state: 'on' }],
  ['81 01 0A 02 02 03 FF', { kind: 'tallyState', state: 'off' }],
  ['81 22 FF', { kind: 'cancel', socket: 2 }],
  ['81 01 00 01 FF', { kind: 'clear' }],
]

test.each(COMMANDS)('%s', (golden, command) => {
  expect(text(encodeCommand(command))).toBe(golden)
  expect(decodeCommand(bytes(golden))).toEqual(command)
})

test('another address, wider positions, a fixed second speed, and what has no name', () => {
  expect(text(encodeCommand({ kind: 'memory', action: 'recall', slot: 5 }, 3))).toBe('83 01 04 3F 02 05 FF')
  const go: ViscaCommand = { kind: 'ptAbsolute', panStep: 12, tiltStep: 10, pan: -2, tilt: 3 }
  const wide = { panNibbles: 5, tiltNibbles: 4 }
  expect(text(encodeCommand(go, 1, { ...wide, secondSpeed: 0 }))).toBe(
    '81 01 06 02 0C 00 0F 0F 0F 0F 0E 00 00 00 03 FF',
  )
  expect(text(encodeCommand(go, 1, { panNibbles: 5, tiltNibbles: 5 }))).toBe(
    '81 01 06 02 0C 0A 0F 0F 0F 0F 0E 00 00 00 00 03 FF',
  )
  expect(text(encodeCommand({ kind: 'extra', bytes: [1, 0x7e, 4, 0x3a, 2] }))).toBe('81 01 7E 04 3A 02 FF')
  // Standard speed, which has no step of its own.
  expect(decodeCommand(bytes('81 01 04 07 02 FF'))).toEqual({ kind: 'zoomDrive', direction: 1, step: 3 })
})

const INQUIRIES: [InquiryKind, string, string, Answer][] = [
  ['power', '81 09 04 00 FF', '90 50 02 FF', { kind: 'power', on: true }],
  [
    'ptPosition',
    '81 09 06 12 FF',
    '90 50 00 04 0B 00 0F 0E 00 00 FF',
    { kind: 'ptPosition', pan: 1200, tilt: -512 },
  ],
  ['ptTopSpeeds', '81 09 06 11 FF', '90 50 18 14 FF', { kind: 'ptTopSpeeds', panStep: 24, tiltStep: 20 }],
  ['ptStatus', '81 09 06 10 FF', '90 50 00 04 00 00 FF', { kind: 'ptStatus', bits: 0x400 }],
  ['zoomPosition', '81 09 04 47 FF', '90 50 02 0A 03 0C FF', { kind: 'zoomPosition', position: 0x2a3c }],
  ['focusPosition', '81 09 04 48 FF', '90 50 01 02 03 04 FF', { kind: 'focusPosition', position: 0x1234 }],
  ['focusMode', '81 09 04 38 FF', '90 50 03 FF', { kind: 'focusMode', auto: false }],
  [
    'version',
    '81 09 00 02 FF',
    '90 50 00 77 01 20 01 00 02 FF',
    { kind: 'version', maker: 0x77, model: 0x120, rom: 0x100, sockets: 2 },
  ],
  ['whiteBalance', '81 09 04 35 FF', '90 50 05 FF', { kind: 'whiteBalance', value: 5 }],
  ['exposureMode', '81 09 04 39 FF', '90 50 0A FF', { kind: 'exposureMode', value: 10 }],
  ['redGain', '81 09 04 43 FF', '90 50 00 00 05 0A FF', { kind: 'redGain', value: 0x5a }],
  ['blueGain', '81 09 04 44 FF', '90 50 00 00 05 0B FF', { kind: 'blueGain', value: 0x5b }],
  ['shutter', '81 09 04 4A FF', '90 50 00 00 01 02 FF', { kind: 'shutter', value: 0x12 }],
  ['iris', '81 09 04 4B FF', '90 50 00 00 01 01 FF', { kind: 'iris', value: 0x11 }],
  ['gain', '81 09 04 4C FF', '90 50 00 00 00 03 FF', { kind: 'gain', value: 3 }],
  ['bright', '81 09 04 4D FF', '90 50 00 00 01 00 FF', { kind: 'bright', value: 0x10 }],
]

test.each(INQUIRIES)('asking %s', (kind, asked, answered, answer) => {
  expect(text(encodeInquiry(kind))).toBe(asked)
  expect(decodeInquiry(bytes(asked))).toBe(kind)
  expect(text(encodeAnswer(answer))).toBe(answered)
  expect(decodeAnswer(kind, bytes(answered))).toEqual(answer)
})

test('answers as they also come: in a socket, wider, with a short status, to a control of the head', () => {
  expect(decodeAnswer('power', bytes('90 51 03 FF'))).toEqual({ kind: 'power', on: false })
  expect(decodeAnswer('ptPosition', bytes('90 50 0F 0F 0F 0F 0E 00 00 00 03 FF'))).toEqual({
    ...{ kind: 'ptPosition', pan: -2, tilt: 3 },
    ...{ panNibbles: 5, tiltNibbles: 4 },
  })
  expect(decodeAnswer('ptPosition', bytes('90 50 0F 0F 0F 0F 0E 00 00 00 00 03 FF'))).toEqual({
    ...{ kind: 'ptPosition', pan: -2, tilt: 3 },
    ...{ panNibbles: 5, tiltNibbles: 5 },
  })
  expect(decodeAnswer('ptStatus', bytes('90 50 04 01 FF'))).toEqual({ kind: 'ptStatus', bits: 0x401 })
  expect(text(encodeInquiry('control:x', 2, [4, 6]))).toBe('82 09 04 06 FF')
  expect(decodeAnswer('control:x', bytes('90 50 02 FF'))).toEqual({ kind: 'control:x', bytes: [2] })
})

const REPLIES: [string, Exclude<Reply, { kind: 'answer' }>][] = [
  ['90 41 FF', { kind: 'ack', socket: 1 }],
  ['90 52 FF', { kind: 'completed', socket: 2 }],
  ['90 60 01 FF', { kind: 'error', socket: 0, error: 'message-length' }],
  ['90 60 02 FF', { kind: 'error', socket: 0, error: 'syntax' }],
  ['90 60 03 FF', { kind: 'error', socket: 0, error: 'buffer-full' }],
  ['90 61 04 FF', { kind: 'error', socket: 1, error: 'cancelled' }],
  ['90 62 05 FF', { kind: 'error', socket: 2, error: 'no-socket' }],
  ['90 61 41 FF', { kind: 'error', socket: 1, error: 'not-executable' }],
]

test.each(REPLIES)('reply %s', (golden, reply) => {
  expect(text(encodeReply(reply))).toBe(golden)
  expect(decodeReply(bytes(golden))).toEqual(reply)
})
