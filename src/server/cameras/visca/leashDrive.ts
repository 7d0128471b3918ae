/** Turns drives into short absolute moves that end by themselves; see core/stick/leash. */
import { degToUnits, type HeadProfile } from '../../../core/heads/profile'
import { speedOfStep } from '../../../core/stick/dither'
import { LEASH_EVERY_MS, LeashLead, leashPoint } from '../../../core/stick/leash'
import type { Bounds, Speeds } from '../../../core/stick/speeds'
import type { ViscaCommand } from '../../../core/visca/commands'
import type { Lane } from '../../../core/visca/sessionTypes'
import type { Reading } from '../body'
import { isStop } from './driveCommands'

type PtDrive = ViscaCommand & { kind: 'ptDrive' }

export class LeashDrive {
  private sentAtMs: Record<'panTilt' | 'zoom', number> = { panTilt: -Infinity, zoom: -Infinity }
  private direction = ''
  private readonly lead = new LeashLead()
  /** What the axes were last sent at, to know where they are between two readings; degrees per second. */
  private ran = { pan: 0, tilt: 0 }

  constructor(private readonly profile: HeadProfile) {}

  /**
   * @param drive what would be sent without a leash
   * @returns what is sent instead; null if nothing is due, or the drive itself where it is not known
   *   where the lane stands
   */
  next(
    lane: Lane,
    drive: ViscaCommand,
    speeds: Speeds,
    { reading, bounds, nowMs }: { reading: Reading; bounds: Bounds; nowMs: number },
  ): ViscaCommand | null {
    if (lane === 'focus') return drive
    if (isStop(drive)) {
      this.sentAtMs[lane] = -Infinity
      if (lane === 'zoom') this.lead.end()
      else this.ran = { pan: 0, tilt: 0 }
      return drive
    }
    return lane === 'panTilt'
      ? this.panTilt(drive as PtDrive, reading, bounds, nowMs)
      : this.zoom(drive, speeds, reading, bounds, nowMs)
  }

  private panTilt(drive: PtDrive, reading: Reading, bounds: Bounds, nowMs: number): ViscaCommand | null {
    const { panDeg, tiltDeg, panTiltAtMs } = reading
    if (panDeg === null || tiltDeg === null) return drive
    const { pan, tilt } = this.profile
    // The hand has turned: the old point would be gone to first.
    const direction = `${drive.pan} ${drive.tilt}`
    if (direction === this.direction && nowMs - this.sentAtMs.panTilt < LEASH_EVERY_MS) return null
    const since = Math.min(0.5, Math.max(0, (nowMs - panTiltAtMs) / 1000))
    const at = { pan: panDeg + this.ran.pan * since, tilt: tiltDeg + this.ran.tilt * since }
    this.direction = direction
    this.sentAtMs.panTilt = nowMs
    this.ran = {
      pan: drive.pan * speedOfStep(drive.panStep, pan.speedsDegPerSec),
      tilt: drive.tilt * speedOfStep(drive.tiltStep, tilt.speedsDegPerSec),
    }
    return {
      kind: 'ptAbsolute',
      panStep: drive.panStep,
      tiltStep: drive.tiltStep,
      pan: degToUnits(pan, leashPoint(at.pan, this.ran.pan, bounds.pan)),
      tilt: degToUnits(tilt, leashPoint(at.tilt, this.ran.tilt, bounds.tilt)),
    }
  }

  private zoom(
    drive: ViscaCommand,
    { zoomPerSec }: Speeds,
    { zoom }: Reading,
    bounds: Bounds,
    nowMs: number,
  ): ViscaCommand | null {
    if (zoom === null) return drive
    if (nowMs - this.sentAtMs.zoom < LEASH_EVERY_MS) return null
    this.sentAtMs.zoom = nowMs
    const wide = this.profile.lens.zoomCurve[0]![0]
    const point = this.lead.next(zoom, zoomPerSec, { min: wide, max: bounds.zoomMax }, nowMs)
    return { kind: 'zoomTo', position: Math.round(point) }
  }
}
