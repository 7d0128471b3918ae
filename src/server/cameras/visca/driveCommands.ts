/** From stick deflections to VISCA drive commands for a given head, at a given zoom. */
import type { HeadProfile } from '../../../core/heads/profile'
import { type Feel, shapeAxis, stickSpeeds, zoomScale } from '../../../core/stick/shape'
import { nearestStep } from '../../../core/stick/steps'
import type { Direction, ViscaCommand } from '../../../core/visca/commands'
import type { Lane } from '../../../core/visca/sessionTypes'
import type { Sticks } from '../camera'

const direction = (value: number, step: number): Direction => (step === 0 ? 0 : value > 0 ? 1 : -1)

/** Steps 0..7 of zoom and focus: evenly over the deflection, slowest first. */
function variableStep(value: number): number {
  return value === 0 ? 0 : Math.min(7, Math.floor(Math.abs(value) * 8))
}

export function driveCommands(
  sticks: Sticks,
  profile: HeadProfile,
  fov: { hfovDeg: number; wideHfovDeg: number },
  feel: Feel,
): Record<Lane, ViscaCommand> {
  const scale = zoomScale(fov.hfovDeg, fov.wideHfovDeg, feel.zoomFloor)
  const speeds = stickSpeeds({ x: sticks.pan, y: sticks.tilt }, scale, feel)
  const panStep = nearestStep(speeds.panDegPerSec, profile.pan.speedsDegPerSec)
  const tiltStep = nearestStep(speeds.tiltDegPerSec, profile.tilt.speedsDegPerSec)
  const zoom = shapeAxis(sticks.zoom, feel)
  const focus = shapeAxis(sticks.focus, feel)
  return {
    panTilt: {
      kind: 'ptDrive',
      // A speed of zero is not allowed on the wire, not even for an axis that stands still.
      panStep: Math.max(1, panStep),
      tiltStep: Math.max(1, tiltStep),
      pan: direction(speeds.panDegPerSec, panStep),
      tilt: direction(speeds.tiltDegPerSec, tiltStep),
    },
    zoom: { kind: 'zoomDrive', direction: zoom === 0 ? 0 : zoom > 0 ? 1 : -1, step: variableStep(zoom) },
    focus: { kind: 'focusDrive', direction: focus === 0 ? 0 : focus > 0 ? 1 : -1, step: variableStep(focus) },
  }
}

export function isStop(command: ViscaCommand): boolean {
  if (command.kind === 'ptDrive') return command.pan === 0 && command.tilt === 0
  return (command.kind === 'zoomDrive' || command.kind === 'focusDrive') && command.direction === 0
}
