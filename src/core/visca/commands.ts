/**
 * VISCA commands as typed values, and their bytes both ways. Pan and tilt positions are the head's
 * own signed steps, zoom and focus positions 0..0x4000 and beyond (digital), speeds the head's
 * own steps. Directions are -1, 0, 1 with right, up, tele and far positive.
 */
import {
  fromNibbles,
  fromSigned,
  isPacket,
  type PositionFormat,
  positionWidths,
  TERMINATOR,
  toNibbles,
  toSigned,
  USUAL_POSITIONS,
} from './packet'
import { isMode, SETTING_CODES, type Setting, settingOf } from './settings'

export type Direction = -1 | 0 | 1

export type ViscaCommand =
  | { kind: 'power'; on: boolean }
  | { kind: 'ptDrive'; panStep: number; tiltStep: number; pan: Direction; tilt: Direction }
  | { kind: 'ptAbsolute'; panStep: number; tiltStep: number; pan: number; tilt: number }
  | { kind: 'ptRelative'; panStep: number; tiltStep: number; pan: number; tilt: number }
  | { kind: 'ptHome' }
  | { kind: 'ptReset' }
  /** step 0..7 */
  | { kind: 'zoomDrive'; direction: Direction; step: number }
  | { kind: 'zoomTo'; position: number }
  | { kind: 'focusDrive'; direction: Direction; step: number }
  | { kind: 'focusTo'; position: number }
  | { kind: 'focusMode'; auto: boolean }
  | { kind: 'focusOnePush' }
  | { kind: 'memory'; action: MemoryAction; slot: number }
  | { kind: 'tallyLamp'; on: boolean }
  /** The lamp of the other family, which knows blinking. */
  | { kind: 'tallyState'; state: 'blinks' | 'on' | 'off' }
  | { kind: 'tallyGreen'; on: boolean }
  /** The camera keeps sending the picture of this moment. */
  | { kind: 'freeze'; on: boolean }
  | { kind: 'set'; setting: Setting; value: number }
  | { kind: 'digitalZoom'; on: boolean }
  /** Which corner of the range: up and right, or down and left; positions in the head's own steps. */
  | { kind: 'limitSet'; corner: LimitCorner; pan: number; tilt: number }
  | { kind: 'limitClear'; corner: LimitCorner }
  | { kind: 'cancel'; socket: number }
  /** Clears the camera's command buffers: another controller may have left its sockets busy. */
  | { kind: 'clear' }
  /** A command of the head's own, as the bytes between header and terminator; see core/heads/extras. */
  | { kind: 'extra'; bytes: readonly number[] }

export type LimitCorner = 'upRight' | 'downLeft'

export type MemoryAction = 'clear' | 'set' | 'recall'

const MEMORY_ACTIONS: readonly MemoryAction[] = ['clear', 'set', 'recall']

const panCode = (d: Direction) => (d < 0 ? 0x01 : d > 0 ? 0x02 : 0x03)
const tiltCode = (d: Direction) => (d > 0 ? 0x01 : d < 0 ? 0x02 : 0x03)
const cornerCode = (corner: LimitCorner) => (corner === 'upRight' ? 0x01 : 0x00)
const NO_LIMIT = [0x07, 0x0f, 0x0f, 0x0f]
const onOff = (on: boolean) => (on ? 0x02 : 0x03)
/** Variable speed drive of zoom and focus: `2p` is tele or far, `3p` wide or near, `00` stop. */
const driveCode = (d: Direction, step: number) => (d === 0 ? 0x00 : (d > 0 ? 0x20 : 0x30) | (step & 0x07))

const TALLY_STATES = { blinks: 0x01, on: 0x02, off: 0x03 } as const

function body(c: ViscaCommand, format: PositionFormat): number[] {
  const position = (pan: number, tilt: number) => [
    ...toSigned(pan, format.panNibbles),
    ...toSigned(tilt, format.tiltNibbles),
  ]
  switch (c.kind) {
    case 'power':
      return [0x01, 0x04, 0x00, onOff(c.on)]
    case 'ptDrive':
      return [0x01, 0x06, 0x01, c.panStep, c.tiltStep, panCode(c.pan), tiltCode(c.tilt)]
    case 'ptAbsolute':
    case 'ptRelative': {
      const op = c.kind === 'ptAbsolute' ? 0x02 : 0x03
      return [0x01, 0x06, op, c.panStep, format.secondSpeed ?? c.tiltStep, ...position(c.pan, c.tilt)]
    }
    case 'ptHome':
      return [0x01, 0x06, 0x04]
    case 'ptReset':
      return [0x01, 0x06, 0x05]
    case 'zoomDrive':
      return [0x01, 0x04, 0x07, driveCode(c.direction, c.step)]
    case 'zoomTo':
      return [0x01, 0x04, 0x47, ...toNibbles(c.position, 4)]
    case 'focusDrive':
      return [0x01, 0x04, 0x08, driveCode(c.direction, c.step)]
    case 'focusTo':
      return [0x01, 0x04, 0x48, ...toNibbles(c.position, 4)]
    case 'focusMode':
      return [0x01, 0x04, 0x38, onOff(c.auto)]
    case 'focusOnePush':
      return [0x01, 0x04, 0x18, 0x01]
    case 'memory':
      return [0x01, 0x04, 0x3f, MEMORY_ACTIONS.indexOf(c.action), c.slot & 0x7f]
    case 'tallyLamp':
      return [0x01, 0x7e, 0x01, 0x0a, 0x00, onOff(c.on)]
    case 'tallyState':
      return [0x01, 0x0a, 0x02, 0x02, TALLY_STATES[c.state]]
    case 'tallyGreen':
      return [0x01, 0x7e, 0x04, 0x1a, 0x00, onOff(c.on)]
    case 'digitalZoom':
      return [0x01, 0x04, 0x06, onOff(c.on)]
    case 'freeze':
      return [0x01, 0x04, 0x62, onOff(c.on)]
    case 'set': {
      const value = isMode(c.setting) ? [c.value & 0x7f] : [0x00, 0x00, ...toNibbles(c.value, 2)]
      return [0x01, 0x04, SETTING_CODES[c.setting], ...value]
    }
    case 'limitSet':
      return [0x01, 0x06, 0x07, 0x00, cornerCode(c.corner), ...position(c.pan, c.tilt)]
    case 'limitClear':
      return [0x01, 0x06, 0x07, 0x01, cornerCode(c.corner), ...NO_LIMIT, ...NO_LIMIT]
    case 'cancel':
      return [0x20 | (c.socket & 0x0f)]
    case 'clear':
      return [0x01, 0x00, 0x01]
    case 'extra':
      return [...c.bytes]
  }
}

/** The bytes of a command for the camera at `address` (1-7; always 1 over IP). */
export function encodeCommand(
  command: ViscaCommand,
  address = 1,
  format: PositionFormat = USUAL_POSITIONS,
): Uint8Array {
  return Uint8Array.of(0x80 | address, ...body(command, format), TERMINATOR)
}

const panOf: Record<number, Direction> = { 1: -1, 2: 1, 3: 0 }
const tiltOf: Record<number, Direction> = { 1: 1, 2: -1, 3: 0 }

function readDrive(code: number): { direction: Direction; step: number } | null {
  if (code === 0x00) return { direction: 0, step: 0 }
  // `02` and `03` are the plain drives of standard speed, which the middle step stands for.
  if (code === 0x02 || code === 0x03) return { direction: code === 0x02 ? 1 : -1, step: 3 }
  const high = code & 0xf8
  return high === 0x20 || high === 0x30 ? { direction: high === 0x20 ? 1 : -1, step: code & 0x07 } : null
}

const readOnOff = (code: number | undefined) => (code === 0x02 ? true : code === 0x03 ? false : null)

/** Total length in bytes of each command this codec reads, by its bytes after the header. */
function lengthIs(bytes: Uint8Array, length: number) {
  return bytes.length === length
}

function decodePanTilt(b: Uint8Array): ViscaCommand | null {
  const panStep = b[4] ?? 0
  const tiltStep = b[5] ?? 0
  switch (b[3]) {
    case 0x01: {
      const pan = panOf[b[6] ?? 0]
      const tilt = tiltOf[b[7] ?? 0]
      if (!lengthIs(b, 9) || pan === undefined || tilt === undefined) return null
      return { kind: 'ptDrive', panStep, tiltStep, pan, tilt }
    }
    case 0x02:
    case 0x03: {
      const widths = positionWidths(b.length - 7)
      if (!widths) return null
      const [panNibbles, tiltNibbles] = widths
      const kind = b[3] === 0x02 ? 'ptAbsolute' : 'ptRelative'
      const pan = fromSigned(b, 6, panNibbles)
      return { kind, panStep, tiltStep, pan, tilt: fromSigned(b, 6 + panNibbles, tiltNibbles) }
    }
    case 0x04:
      return lengthIs(b, 5) ? { kind: 'ptHome' } : null
    case 0x05:
      return lengthIs(b, 5) ? { kind: 'ptReset' } : null
    case 0x07: {
      const corner = b[5] === 0x01 ? 'upRight' : 'downLeft'
      if (!lengthIs(b, 15) || (b[5] ?? 2) > 1) return null
      if (b[4] === 0x01) return { kind: 'limitClear', corner }
      return b[4] === 0x00
        ? { kind: 'limitSet', corner, pan: fromSigned(b, 6), tilt: fromSigned(b, 10) }
        : null
    }
    default:
      return null
  }
}

function decodeBlock(b: Uint8Array): ViscaCommand | null {
  const value = b[4] ?? 0
  switch (b[3]) {
    case 0x00: {
      const on = readOnOff(value)
      return lengthIs(b, 6) && on !== null ? { kind: 'power', on } : null
    }
    case 0x06: {
      const on = readOnOff(value)
      return lengthIs(b, 6) && on !== null ? { kind: 'digitalZoom', on } : null
    }
    case 0x07:
    case 0x08: {
      const drive = readDrive(value)
      if (!lengthIs(b, 6) || !drive) return null
      return { kind: b[3] === 0x07 ? 'zoomDrive' : 'focusDrive', ...drive }
    }
    case 0x47:
    case 0x48:
      if (!lengthIs(b, 9)) return null
      return { kind: b[3] === 0x47 ? 'zoomTo' : 'focusTo', position: fromNibbles(b, 4, 4) }
    case 0x38: {
      const auto = readOnOff(value)
      return lengthIs(b, 6) && auto !== null ? { kind: 'focusMode', auto } : null
    }
    case 0x18:
      return lengthIs(b, 6) && value === 0x01 ? { kind: 'focusOnePush' } : null
    case 0x3f: {
      const action = MEMORY_ACTIONS[value]
      const slot = b[5] ?? 0xff
      return lengthIs(b, 7) && action && slot < 0x80 ? { kind: 'memory', action, slot } : null
    }
    case 0x62: {
      const on = readOnOff(value)
      return lengthIs(b, 6) && on !== null ? { kind: 'freeze', on } : null
    }
    default: {
      const setting = settingOf(b[3])
      if (!setting) return null
      if (isMode(setting)) return lengthIs(b, 6) && value < 0x80 ? { kind: 'set', setting, value } : null
      return lengthIs(b, 9) ? { kind: 'set', setting, value: fromNibbles(b, 6, 2) } : null
    }
  }
}

/** Reads a command packet; null if it is none that this codec knows. */
export function decodeCommand(b: Uint8Array): ViscaCommand | null {
  if (!isPacket(b) || (b[0]! & 0x80) === 0) return null
  if ((b[1]! & 0xf0) === 0x20 && b.length === 3) return { kind: 'cancel', socket: b[1]! & 0x0f }
  if (b[1] !== 0x01) return null
  if (b[2] === 0x00 && b[3] === 0x01 && b.length === 5) return { kind: 'clear' }
  if (b[2] === 0x06) return decodePanTilt(b)
  if (b[2] === 0x04) return decodeBlock(b)
  return decodeTally(b)
}

function decodeTally(b: Uint8Array): ViscaCommand | null {
  if (b[2] === 0x0a && b[3] === 0x02 && b[4] === 0x02 && b.length === 7) {
    const state = (Object.keys(TALLY_STATES) as (keyof typeof TALLY_STATES)[]).find(
      (name) => TALLY_STATES[name] === b[5],
    )
    return state ? { kind: 'tallyState', state } : null
  }
  const on = readOnOff(b[6])
  if (b[2] !== 0x7e || b[5] !== 0x00 || b.length !== 8 || on === null) return null
  if (b[3] === 0x01 && b[4] === 0x0a) return { kind: 'tallyLamp', on }
  return b[3] === 0x04 && b[4] === 0x1a ? { kind: 'tallyGreen', on } : null
}
