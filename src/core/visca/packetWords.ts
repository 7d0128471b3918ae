/** A VISCA packet in plain words, for the camera report. */
import { decodeCommand, type ViscaCommand } from './commands'
import { decodeAnswer, decodeInquiry, type InquiryKind } from './inquiries'
import { readControl, splitDatagrams } from './ip'
import { decodeReply } from './replies'
import { PacketStream } from './stream'

const ASKED: Partial<Record<InquiryKind, string>> = {
  power: 'whether it is switched on',
  ptPosition: 'pan and tilt position',
  ptTopSpeeds: 'top speeds',
  ptStatus: 'pan and tilt status',
  zoomPosition: 'zoom position',
  focusPosition: 'focus position',
  focusMode: 'focus mode',
  version: 'version',
  whiteBalance: 'white balance mode',
  exposureMode: 'exposure mode',
}
/** In the order in which an answer is tried. */
const ANSWERS: readonly InquiryKind[] = ['ptPosition', 'version', 'zoomPosition', 'ptTopSpeeds', 'power']

const way = (value: number, minus: string, plus: string) => (value === 0 ? 'still' : value < 0 ? minus : plus)

function commandWords(c: ViscaCommand): string {
  switch (c.kind) {
    case 'power':
      return c.on ? 'Switch on' : 'Standby'
    case 'ptDrive':
      if (c.pan === 0 && c.tilt === 0) return 'Stop pan and tilt'
      return `Drive pan ${way(c.pan, 'left', 'right')} at ${c.panStep}, tilt ${way(c.tilt, 'down', 'up')} at ${c.tiltStep}`
    case 'ptAbsolute':
      return `Go to pan ${c.pan}, tilt ${c.tilt}, at ${c.panStep} and ${c.tiltStep}`
    case 'ptRelative':
      return `Move by pan ${c.pan}, tilt ${c.tilt}`
    case 'ptHome':
      return 'Go home'
    case 'ptReset':
      return 'Reset pan and tilt'
    case 'zoomDrive':
      return c.direction === 0 ? 'Stop zoom' : `Zoom ${way(c.direction, 'wide', 'tele')} at ${c.step}`
    case 'zoomTo':
      return `Zoom to ${c.position}`
    case 'focusDrive':
      return c.direction === 0 ? 'Stop focus' : `Focus ${way(c.direction, 'near', 'far')} at ${c.step}`
    case 'focusTo':
      return `Focus to ${c.position}`
    case 'focusMode':
      return c.auto ? 'Automatic focus on' : 'Automatic focus off'
    case 'focusOnePush':
      return 'Focus once'
    case 'memory':
      return `${{ clear: 'Clear', set: 'Store', recall: 'Recall' }[c.action]} memory in slot ${c.slot}`
    case 'tallyLamp':
      return `Tally lamp ${c.on ? 'on' : 'off'}`
    case 'tallyState':
      return `Tally lamp ${c.state}`
    case 'tallyGreen':
      return `Green tally lamp ${c.on ? 'on' : 'off'}`
    case 'freeze':
      return c.on ? 'Hold the picture' : 'Let the picture run'
    case 'set':
      return `Set ${c.setting} to ${c.value}`
    case 'digitalZoom':
      return `Digital zoom ${c.on ? 'on' : 'off'}`
    case 'limitSet':
      return `Set the ${c.corner === 'upRight' ? 'upper right' : 'lower left'} limit to pan ${c.pan}, tilt ${c.tilt}`
    case 'limitClear':
      return `Remove the ${c.corner === 'upRight' ? 'upper right' : 'lower left'} limit`
    case 'cancel':
      return `Cancel what runs in socket ${c.socket}`
    case 'clear':
      return 'Clear the command buffers'
    case 'extra':
      return "A command of the head's own"
  }
}

function answerWords(packet: Uint8Array): string {
  for (const kind of ANSWERS) {
    const answer = decodeAnswer(kind, packet)
    if (!answer) continue
    if (answer.kind === 'ptPosition') return `Stands at pan ${answer.pan}, tilt ${answer.tilt}`
    if ('position' in answer) return `Answers ${answer.position}`
    if (answer.kind === 'version')
      return `Version: maker ${answer.maker.toString(16)}, model ${answer.model.toString(16)}`
    if (answer.kind === 'ptTopSpeeds') return `Top speeds ${answer.panStep} and ${answer.tiltStep}`
    if ('on' in answer) return 'Answers on'
  }
  return 'Answers'
}

const ERRORS = {
  'message-length': 'Refused: wrong length',
  syntax: 'Refused: it does not know this',
  'buffer-full': 'Refused: both sockets are busy',
  cancelled: 'Cancelled',
  'no-socket': 'Nothing runs in this socket',
  'not-executable': 'Refused: not now',
}

/** @param packet with header and terminator */
function oneWords(packet: Uint8Array): string {
  if (packet[0] === 0x88) return packet[1] === 0x30 ? 'Address set, to all' : 'To all cameras'
  const inquiry = decodeInquiry(packet)
  if (inquiry) return `Ask ${ASKED[inquiry] ?? inquiry}`
  const reply = decodeReply(packet)
  switch (reply?.kind) {
    case 'ack':
      return `Acknowledged, socket ${reply.socket}`
    case 'completed':
      return `Completed, socket ${reply.socket}`
    case 'answer':
      return answerWords(packet)
    case 'error':
      return ERRORS[reply.error]
  }
  const command = decodeCommand(packet)
  if (command) return commandWords(command)
  return packet[1] === 0x09 ? "Ask a value of the head's own" : "A command of the head's own, or noise"
}

const CONTROL = {
  reset: 'Reset of the packet numbers',
  'out-of-order': 'Packet number out of order',
  'bad-message': 'Message not understood',
}

/** @param framed the bytes carry a header with a number */
export function packetWords(bytes: Uint8Array, framed: boolean): string {
  if (!framed) {
    const packets = new PacketStream().push(bytes)
    return packets.length > 0 ? packets.map(oneWords).join('; ') : 'Noise, or part of a packet'
  }
  const words = splitDatagrams(bytes).flatMap(({ type, sequence, payload }) => {
    if (type === 'control' || type === 'controlReply') {
      const control = readControl(payload)
      return [control ? `${CONTROL[control]} (${sequence})` : `Control (${sequence})`]
    }
    return new PacketStream().push(payload).map((packet) => `${oneWords(packet)} (${sequence})`)
  })
  return words.length > 0 ? words.join('; ') : 'Noise'
}
