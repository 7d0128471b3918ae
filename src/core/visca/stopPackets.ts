/** The packets that stop a VISCA camera without a session: for the guardian. Source: docs/protocols.md. */
import type { StopPacket } from '../guardian/stopOrder'
import { encodeCommand, type ViscaCommand } from './commands'
import { encodeDatagram, RESET_SEQUENCE } from './ip'

export interface StopParts {
  head: boolean
  lens: boolean
}

const toHex = (bytes: Uint8Array) => [...bytes].map((b) => b.toString(16).padStart(2, '0')).join('')
const uint32 = (n: number) => (n >>> 0).toString(16).padStart(8, '0')

/** Sockets 1 and 2: a camera with both busy would refuse a stop. */
const CANCELS: ViscaCommand[] = [
  { kind: 'cancel', socket: 1 },
  { kind: 'cancel', socket: 2 },
]

function stops({ head, lens }: StopParts): ViscaCommand[] {
  const found: ViscaCommand[] = []
  if (head) found.push({ kind: 'ptDrive', panStep: 1, tiltStep: 1, pan: 0, tilt: 0 })
  if (lens) {
    found.push({ kind: 'zoomDrive', direction: 0, step: 0 })
    found.push({ kind: 'focusDrive', direction: 0, step: 0 })
  }
  return found
}

/** Packets alone, for raw UDP, TCP and serial. @param address 1-7; over IP always 1 */
export function rawStops(parts: StopParts, address = 1): StopPacket[] {
  const header = (0x80 | (address << 4)).toString(16)
  // Acknowledged or completed; raw answers do not say what they belong to, so they are counted.
  const answered = `${header}[45][12]ff`
  const packet = (command: ViscaCommand, expects: string | null): StopPacket => ({
    hex: toHex(encodeCommand(command, address)),
    answered: expects,
  })
  return [
    ...stops(parts).map((command) => packet(command, answered)),
    ...CANCELS.map((command) => packet(command, null)),
  ]
}

/**
 * Numbered packets, with the reset of the numbers that they need.
 * @param nonce the reset's own number, unlike that of any session
 */
export function framedStops(parts: StopParts, nonce: number): StopPacket[] {
  const reset = encodeDatagram({ type: 'control', sequence: nonce >>> 0, payload: RESET_SEQUENCE })
  let sequence = 0
  const packet = (command: ViscaCommand, counts: boolean): StopPacket => {
    sequence += 1
    const payload = encodeCommand(command)
    return {
      hex: toHex(encodeDatagram({ type: 'command', sequence, payload })),
      answered: counts ? `01110003${uint32(sequence)}90[45][0-9a-f]ff` : null,
    }
  }
  return [
    { hex: toHex(reset), answered: null },
    ...stops(parts).map((command) => packet(command, true)),
    ...CANCELS.map((command) => packet(command, false)),
  ]
}
