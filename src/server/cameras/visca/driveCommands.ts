/** From wanted speeds to VISCA drive commands for a given head. */
import type { HeadProfile } from '../../../core/heads/profile'
import { DITHER_AT_REST, dither, speedOfStep } from '../../../core/stick/dither'
import type { Speeds } from '../../../core/stick/speeds'
import type { Direction, ViscaCommand } from '../../../core/visca/commands'
import type { Lane } from '../../../core/visca/sessionTypes'

/** An eye sees the zoom's steps less than those of a turn: it leaves the room to that. */
const ZOOM_HOLDS = 2

const direction = (value: number): Direction => (value === 0 ? 0 : value > 0 ? 1 : -1)

/** Steps 0..7 of the focus: evenly over the push, slowest first. */
const focusStep = (push: number) => (push === 0 ? 0 : Math.min(7, Math.floor(Math.abs(push) * 8)))

const upTo = (table: readonly number[], most: number | undefined) =>
  most === undefined ? table : table.slice(0, Math.max(1, most))

/** Keeps what each axis is told, so that the mean of its steps is the speed that was wanted. */
export class DriveCommands {
  /** Steps that the camera says it has; null if it has not. */
  most: { pan: number; tilt: number } | null = null
  private pan = DITHER_AT_REST
  private tilt = DITHER_AT_REST
  private zoom = DITHER_AT_REST

  /** @param holdMs how long a step is held at least */
  constructor(
    private readonly profile: HeadProfile,
    public holdMs: number,
  ) {}

  /** The speeds of the steps that were given out last. */
  speeds(lane: Lane): Partial<Speeds> {
    const { pan, tilt, zoomSpeedsPerSec } = this.profile
    if (lane === 'focus') return {}
    if (lane === 'zoom') return { zoomPerSec: speedOfStep(this.zoom.step, zoomSpeedsPerSec) }
    return {
      panDegPerSec: speedOfStep(this.pan.step, pan.speedsDegPerSec),
      tiltDegPerSec: speedOfStep(this.tilt.step, tilt.speedsDegPerSec),
    }
  }

  next(speeds: Speeds, nowMs: number): Record<Lane, ViscaCommand> {
    const { pan, tilt, zoomSpeedsPerSec, zoomAccelPerSec2 } = this.profile
    const { holdMs } = this
    const panTable = upTo(pan.speedsDegPerSec, this.most?.pan)
    const tiltTable = upTo(tilt.speedsDegPerSec, this.most?.tilt)
    this.pan = dither(this.pan, speeds.panDegPerSec, panTable, pan.accelDegPerSec2, nowMs, holdMs)
    this.tilt = dither(this.tilt, speeds.tiltDegPerSec, tiltTable, tilt.accelDegPerSec2, nowMs, holdMs)
    this.zoom = dither(
      this.zoom,
      speeds.zoomPerSec,
      zoomSpeedsPerSec,
      zoomAccelPerSec2,
      nowMs,
      ZOOM_HOLDS * holdMs,
    )
    const focus = speeds.focus
    return {
      panTilt: {
        kind: 'ptDrive',
        // A speed of zero is not allowed on the wire, not even for an axis that stands still.
        panStep: Math.max(1, Math.abs(this.pan.step)),
        tiltStep: Math.max(1, Math.abs(this.tilt.step)),
        pan: direction(pan.drivesReversed ? -this.pan.step : this.pan.step),
        tilt: direction(tilt.drivesReversed ? -this.tilt.step : this.tilt.step),
      },
      zoom: {
        kind: 'zoomDrive',
        direction: direction(this.zoom.step),
        step: Math.max(0, Math.abs(this.zoom.step) - 1),
      },
      focus: { kind: 'focusDrive', direction: direction(focus), step: focusStep(focus) },
    }
  }
}

export function isStop(command: ViscaCommand): boolean {
  if (command.kind === 'ptDrive') return command.pan === 0 && command.tilt === 0
  return (command.kind === 'zoomDrive' || command.kind === 'focusDrive') && command.direction === 0
}
