/** What the rest of the server sees of a camera, whatever links and protocols are behind it. */
import type { Mount } from '../../core/cameras/connection'
import type { Light } from '../../core/cameras/light'
import type { HeadProfile } from '../../core/heads/profile'
import type { Capabilities, Health } from '../../core/live/messages'
import type { Box } from '../../core/optics/aim'
import type { Pace, Parts } from '../../core/presets/pace'
import type { LivePose, PresetPose } from '../../core/presets/pose'
import type { Travel } from '../../core/presets/standing'
import type { Limits, Push } from '../../core/stick/speeds'

export const STICKS_AT_REST: Push = { pan: 0, tilt: 0, zoom: 0, focus: 0 }

export interface CameraTuning {
  mount: Mount
  limits: Limits
  /** It is to hold its picture while it travels. */
  hold: boolean
  /** Its stick is sent as short moves that end by themselves. */
  leash: boolean
}

/** What is gone to, how, and what of it. */
export interface Recall {
  /** The preset's id, under which the travel is reported. */
  id: string
  pose: PresetPose
  /** Exposure and white balance; null where none were stored. */
  light: Light | null
  pace: Pace
  parts: Parts
  /** The camera holds its picture while it travels, where it can. */
  hold: boolean
}

/** A pose at rest. `focused`: the focus stood still as well. */
export type RestingPose = LivePose & { focused: boolean }

export type MemoryAction = 'set' | 'recall'

export interface SubjectOrder {
  on: boolean
  /** Levels from 1: from calm to quick, and from wide to close. */
  sensitivity: number
  size: number
}

/**
 * `refused`: the camera answered that it does not do this now; `unknown`: that it does not know such an
 * order. All else left it in doubt.
 */
export type CameraResult = { ok: true } | { ok: false; message: string; refused?: boolean; unknown?: boolean }

export const DONE: CameraResult = { ok: true }

export interface CameraEvents {
  pose(pose: LivePose | null): void
  health(health: Health, able: Capabilities): void
  travel(travel: Travel | null): void
  /** A sentence the operator must read. */
  notice(text: string): void
}

export interface Camera {
  readonly profile: HeadProfile
  /** The span of its zoom, for tolerances, in the lens's own units. */
  readonly zoomRange: number
  readonly pose: LivePose | null
  readonly health: Health
  readonly travel: Travel | null
  readonly capabilities: Capabilities
  /** What of its settings does not need another driver. */
  configure(settings: CameraTuning): void
  /** Drives at once, as the operator sees it; all zero is a stop, which is repeated until the camera answers. */
  drive(push: Push): void
  /** Stops whatever it does, a travel too. */
  halt(): void
  /** A finger holds the point (u, v) of the picture, -1..1; the point stays under it until it is lifted. */
  hold(u: number, v: number): void
  moveFinger(u: number, v: number): void
  release(): void
  /** Brings a point of the picture to its centre. @param seconds null: as fast as it can */
  aim(u: number, v: number, seconds: number | null): Promise<CameraResult>
  /** Fills the picture with a box of it. */
  frame(box: Box, seconds: number | null): Promise<CameraResult>
  /** Moves the picture's middle to the right and up, in picture widths. */
  nudge(right: number, up: number): Promise<CameraResult>
  /** Changes the focal length by a factor; the point (u, v) stays where it is. */
  zoomAbout(u: number, v: number, factor: number): Promise<CameraResult>
  /** The camera's own memories, numbered from 1; they are kept in the camera, and not by us. */
  memory(action: MemoryAction, number: number): Promise<CameraResult>
  focusOnce(): Promise<CameraResult>
  /** Focuses on the point (u, v). */
  focusAt(u: number, v: number): Promise<CameraResult>
  setDigitalZoom(on: boolean): Promise<CameraResult>
  /** A head that keeps a subject in the picture by itself. */
  followSubject(order: SubjectOrder): Promise<CameraResult>
  /** Starts to travel to a preset. Refused at once where the camera does not answer. */
  recall(recall: Recall): Promise<CameraResult>
  /** Recalls a preset that is kept in the camera's own memory alone. */
  recallMemory(presetId: string, number: number): Promise<CameraResult>
  /** Is a recall of a memory still under way, as far as the camera tells? */
  readonly memoryRuns: boolean
  /** Exposure and white balance as they are now; null where it does not tell. */
  light(): Promise<Light | null>
  setFocusMode(auto: boolean): Promise<CameraResult>
  setPower(on: boolean): Promise<CameraResult>
  home(): Promise<CameraResult>
  /**
   * A pose read after this call with the camera at rest and, where its focus is automatic, the focus too;
   * without the focus when the time is over, null where it did not come to rest.
   */
  restingPose(timeoutMs: number): Promise<RestingPose | null>
  close(): Promise<void>
}

export const CANNOT = (what: string): CameraResult => ({ ok: false, message: `This camera cannot ${what}.` })
