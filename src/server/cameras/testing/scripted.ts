/** A VISCA camera that answers at once from memory, with the real driver on it and a clock moved by hand. */

import { headProfile } from '../../../core/heads/registry'
import { ALL_PARTS, QUICK } from '../../../core/presets/pace'
import type { LivePose, PresetPose } from '../../../core/presets/pose'
import { PUSH_AT_REST } from '../../../core/stick/speeds'
import { decodeCommand, type ViscaCommand } from '../../../core/visca/commands'
import { FramedSession } from '../../../core/visca/framedSession'
import { type Answer, decodeInquiry, encodeAnswer } from '../../../core/visca/inquiries'
import { decodeDatagram, encodeDatagram, RESET_SEQUENCE } from '../../../core/visca/ip'
import { encodeReply } from '../../../core/visca/replies'
import type { Levels, Setting } from '../../../core/visca/settings'
import type { Link } from '../../links/link'
import type { Recall } from '../camera'
import { OneCamera } from '../oneCamera'
import { ViscaBody } from '../visca/viscaBody'
import { OwnPort } from '../visca/viscaPort'
import { HandClock } from './handClock'

export const LEVELS: Required<Levels> = {
  whiteBalance: 5,
  exposureMode: 3,
  redGain: 90,
  blueGain: 91,
  shutter: 7,
  iris: 11,
  gain: 2,
  bright: 16,
}

/** Answers at once; its pose is what the test says. */
export class ScriptedCamera implements Link {
  commands: ViscaCommand[] = []
  pan = 0
  tilt = 0
  zoom = 0
  power = true
  focus = 0x2000
  readonly levels: Required<Levels> = { ...LEVELS }
  mute = false
  onCommand: (c: ViscaCommand) => void = () => {}
  /** Commands that get lost on the way. */
  deaf: (c: ViscaCommand) => boolean = () => false
  private receive: (bytes: Uint8Array) => void = () => {}

  onReceive(listener: (bytes: Uint8Array) => void) {
    this.receive = listener
  }
  onTrouble() {}
  onOpen() {}
  renew() {}
  close() {}

  send(bytes: Uint8Array) {
    if (this.mute) return
    const { type, sequence, payload } = decodeDatagram(bytes)!
    const reply = (body: Uint8Array) =>
      this.receive(encodeDatagram({ type: 'reply', sequence, payload: body }))
    if (type === 'control') {
      this.receive(encodeDatagram({ type: 'controlReply', sequence, payload: RESET_SEQUENCE }))
    } else if (type === 'inquiry') reply(encodeAnswer(this.answer(decodeInquiry(payload)!)))
    else {
      const command = decodeCommand(payload)!
      if (this.deaf(command) || command.kind === 'clear') return
      this.commands.push(command)
      this.onCommand(command)
      reply(encodeReply({ kind: 'ack', socket: 1 }))
    }
  }

  private answer(kind: string): Answer {
    if (kind === 'ptPosition') return { kind, pan: this.pan, tilt: this.tilt }
    if (kind === 'zoomPosition') return { kind, position: this.zoom }
    if (kind === 'power') return { kind, on: this.power }
    if (kind === 'focusMode') return { kind, auto: true }
    if (kind in this.levels) return { kind: kind as Setting, value: this.levels[kind as Setting] }
    return { kind: 'focusPosition', position: this.focus }
  }
}

export function setUp(suspect = false) {
  const clock = new HandClock()
  const wire = new ScriptedCamera()
  const seen = { poses: [] as (LivePose | null)[], notices: [] as string[] }
  const profile = headProfile('marsh-20x')
  const port = new OwnPort(new FramedSession({ nonce: 5 }), wire, clock)
  const options = {
    profile,
    address: '10.0.0.9:52381',
    parts: { head: true, lens: true },
    slowMs: 250,
    holdMs: 20,
    suspect,
  }
  const body = new ViscaBody(options, port, clock)
  const camera = new OneCamera(
    profile,
    { head: body, lens: body },
    {
      fact: (kind, value) => {
        if (kind === 'pose') seen.poses.push(value as LivePose | null)
      },
      notice: (text) => seen.notices.push(text),
    },
    clock,
  )
  return { clock, wire, camera, seen }
}

export const preset: PresetPose = {
  panDeg: 20,
  tiltDeg: -10,
  zoom: 8000,
  focusAuto: true,
  focus: null,
  encoder: null,
}
export const to = (pose: PresetPose, change: Partial<Recall> = {}): Recall => ({
  id: 'p',
  pose,
  light: null,
  pace: QUICK,
  parts: ALL_PARTS,
  hold: false,
  ...change,
})
export const right = { ...PUSH_AT_REST, pan: 1 }
