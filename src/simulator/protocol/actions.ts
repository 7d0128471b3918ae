/** What a VISCA command does to a stand-in's body, and when it is done. */
import {
  type ControlOrder,
  controlOf,
  type NamedControl,
  templateBytes,
} from '../../core/heads/namedControls'
import { DIGITAL_ZOOM } from '../../core/picture/settings'
import type { ViscaCommand } from '../../core/visca/commands'
import { type Answer, type InquiryKind, isControl } from '../../core/visca/inquiries'
import type { Head } from '../body/head'

export type Group = 'panTilt' | 'zoom' | 'focus' | 'other'

/** The parts of the body that a command occupies: a newer one for the same part ends the older. */
export function groupsOf(command: ViscaCommand): Group[] {
  switch (command.kind) {
    case 'ptDrive':
    case 'ptAbsolute':
    case 'ptRelative':
    case 'ptHome':
    case 'ptReset':
      return ['panTilt']
    case 'zoomDrive':
    case 'zoomTo':
      return ['zoom']
    case 'focusDrive':
    case 'focusTo':
    case 'focusMode':
    case 'focusOnePush':
      return ['focus']
    case 'memory':
      return command.action === 'recall' ? ['panTilt', 'zoom', 'focus'] : ['other']
    default:
      return ['other']
  }
}

/** `done` tells whether the command has run its course; `refused` that it cannot be executed now. */
export type Outcome = { done: () => boolean } | 'refused'

const AT_ONCE: Outcome = { done: () => true }

function goTo(head: Head, panUnits: number, tiltUnits: number, panStep: number, tiltStep: number): Outcome {
  const { pan, tilt } = head.profile
  const [panDeg, tiltDeg] = [panUnits / pan.unitsPerDeg, tiltUnits / tilt.unitsPerDeg]
  const inside = (deg: number, a: typeof pan) => deg >= a.minDeg - 1e-9 && deg <= a.maxDeg + 1e-9
  const panSpeed = pan.speedsDegPerSec[panStep - 1]
  const tiltSpeed = tilt.speedsDegPerSec[tiltStep - 1]
  if (!inside(panDeg, pan) || !inside(tiltDeg, tilt) || !panSpeed || !tiltSpeed) return 'refused'
  head.pan.goTo(panDeg, panSpeed)
  head.tilt.goTo(tiltDeg, tiltSpeed)
  return { done: () => !head.pan.hasGoal && !head.tilt.hasGoal }
}

/** Carries a command out. */
export function perform(head: Head, command: ViscaCommand): Outcome {
  if (command.kind === 'power') {
    if (command.on) head.power = true
    else head.standby()
    return AT_ONCE
  }
  if (!head.power) return 'refused'
  const { pan, tilt, zoomSpeedsPerSec, zoomTravelPerSec } = head.profile
  switch (command.kind) {
    case 'ptDrive': {
      if (head.menu.open) {
        head.menu.arrow(command.pan, command.tilt)
        return AT_ONCE
      }
      // A hand on the stick ends what the head does by itself.
      if (command.pan || command.tilt) head.subject.on = false
      const panSpeed = pan.speedsDegPerSec[command.panStep - 1]
      const tiltSpeed = tilt.speedsDegPerSec[command.tiltStep - 1]
      if ((command.pan && !panSpeed) || (command.tilt && !tiltSpeed)) return 'refused'
      head.pan.drive(command.pan * (panSpeed ?? 0))
      head.tilt.drive(command.tilt * (tiltSpeed ?? 0))
      return AT_ONCE
    }
    case 'ptAbsolute':
      return goTo(head, command.pan, command.tilt, command.panStep, command.tiltStep)
    case 'ptRelative': {
      const panTo = Math.round(head.pan.position * pan.unitsPerDeg) + command.pan
      const tiltTo = Math.round(head.tilt.position * tilt.unitsPerDeg) + command.tilt
      return goTo(head, panTo, tiltTo, command.panStep, command.tiltStep)
    }
    case 'ptHome':
    case 'ptReset':
      return goTo(head, 0, 0, pan.speedsDegPerSec.length, tilt.speedsDegPerSec.length)
    case 'zoomDrive':
      head.zoom.drive(command.direction * zoomSpeedsPerSec[command.step]!)
      return AT_ONCE
    case 'zoomTo':
      if (command.position < head.lens.wide || command.position > head.zoomEnd) return 'refused'
      head.zoom.goTo(command.position, zoomTravelPerSec)
      return { done: () => !head.zoom.hasGoal }
    case 'focusDrive':
      if (head.focus.auto && command.direction !== 0) return 'refused'
      head.focus.drive(command.direction, command.step)
      return AT_ONCE
    case 'focusTo':
      if (head.focus.auto) return 'refused'
      head.focus.goTo(command.position)
      return { done: () => !head.focus.moving }
    case 'focusMode':
      head.focus.setAuto(command.auto)
      return AT_ONCE
    case 'focusOnePush':
      head.focus.once()
      return AT_ONCE
    case 'memory':
      return performMemory(head, command.action, command.slot)
    case 'clear':
      return AT_ONCE
    // Lamps of other families, which the device refuses before this.
    case 'tallyState':
    case 'tallyGreen':
      return 'refused'
    case 'tallyLamp':
      head.tallyLamp = command.on
      return AT_ONCE
    case 'digitalZoom':
      head.setDigital(command.on)
      return AT_ONCE
    case 'freeze':
      if (!controlOf(head.profile.controls, 'freeze', 'switch')) return 'refused'
      head.eye.freeze(command.on)
      return AT_ONCE
    case 'set':
      return head.eye.set(command.setting, command.value) ? AT_ONCE : 'refused'
    case 'limitSet': {
      const at = { pan: command.pan / pan.unitsPerDeg, tilt: command.tilt / tilt.unitsPerDeg }
      head.limit(command.corner, at)
      return AT_ONCE
    }
    case 'limitClear':
      head.limit(command.corner, null)
      return AT_ONCE
    case 'cancel':
    case 'extra':
      return 'refused'
  }
}

/** Carries out one of the head's own. */
export function performControl(head: Head, order: ControlOrder): Outcome {
  if (!head.power) return 'refused'
  if ('x' in order && order.key === 'focusAt') {
    head.focusAt = { x: order.x / 100, y: order.y / 100 }
    head.focus.once()
  } else if ('x' in order) return head.eye.set(order.key, 0) ? AT_ONCE : 'refused'
  else if (order.key === 'subject') head.subject.on = order.value === true
  else if (order.key === 'subjectSize') head.subject.size = Number(order.value)
  else if (order.key === 'subjectSensitivity') head.subject.sensitivity = Number(order.value)
  else return head.eye.set(order.key, Number(order.value)) ? AT_ONCE : 'refused'
  return AT_ONCE
}

function performMemory(head: Head, action: 'clear' | 'set' | 'recall', slot: number): Outcome {
  if (slot >= head.profile.memories) return 'refused'
  if (action === 'set') head.remember(slot)
  else if (action === 'clear') head.forget(slot)
  else {
    if (!head.recall(slot)) return 'refused'
    return { done: () => !head.pan.hasGoal && !head.tilt.hasGoal && !head.zoom.hasGoal }
  }
  return AT_ONCE
}

/** A cancelled command leaves its part of the body standing still. */
export function halt(head: Head, groups: readonly Group[]): void {
  if (groups.includes('panTilt')) {
    head.pan.drive(0)
    head.tilt.drive(0)
  }
  if (groups.includes('zoom')) head.zoom.drive(0)
  if (groups.includes('focus')) head.focus.drive(0, 0)
}

/** The answer to an inquiry; null if the camera gives none now. */
export function answerTo(head: Head, inquiry: InquiryKind): Answer {
  const { profile } = head
  switch (inquiry) {
    case 'power':
      return { kind: 'power', on: head.power }
    case 'ptPosition':
      return {
        kind: 'ptPosition',
        pan: Math.round(head.pan.position * profile.pan.unitsPerDeg),
        tilt: Math.round(head.tilt.position * profile.tilt.unitsPerDeg),
      }
    case 'ptTopSpeeds':
      return {
        kind: 'ptTopSpeeds',
        panStep: profile.pan.speedsDegPerSec.length,
        tiltStep: profile.tilt.speedsDegPerSec.length,
      }
    case 'zoomPosition':
      return { kind: 'zoomPosition', position: Math.round(head.zoom.position) }
    case 'focusPosition':
      return { kind: 'focusPosition', position: head.focus.position }
    case 'focusMode':
      return { kind: 'focusMode', auto: head.focus.auto }
    case 'ptStatus':
      return { kind: 'ptStatus', bits: 0 }
    case 'version':
      return {
        kind: 'version',
        rom: 0x0100,
        sockets: 2,
        ...(profile.answers ?? { maker: 0x77, model: 0x0120 }),
      }
    default:
      // Named controls are answered before this.
      if (isControl(inquiry)) return { kind: inquiry, bytes: [] }
      return { kind: inquiry, value: head.eye.level(inquiry) }
  }
}

/** The answer to a question for one of the head's named controls, between its first two bytes and the terminator. */
export function controlAnswer(head: Head, control: NamedControl): number[] {
  const value = control.key === DIGITAL_ZOOM ? Number(head.zoomsDigitally) : head.eye.level(control.key)
  if (control.answer) return templateBytes(control.answer, { value })
  return [value === 1 ? 0x02 : 0x03]
}
