/** What the rest of the server sees of a camera, whatever links and protocols are behind it. */
import type { HeadProfile } from '../../core/heads/profile'
import type { Capabilities, Health } from '../../core/live/messages'
import type { LivePose, PresetPose } from '../../core/presets/pose'
import type { Travel } from '../../core/presets/standing'

/** Deflections -1..1; right, up, tele and far positive. */
export interface Sticks {
  pan: number
  tilt: number
  zoom: number
  focus: number
}

export const STICKS_AT_REST: Sticks = { pan: 0, tilt: 0, zoom: 0, focus: 0 }

export type CameraResult = { ok: true } | { ok: false; message: string }

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
  readonly pose: LivePose | null
  readonly health: Health
  readonly travel: Travel | null
  readonly capabilities: Capabilities
  /** Drives at once; all zero is a stop, which is repeated until the camera answers. */
  drive(sticks: Sticks): void
  /** Starts to travel to a preset. Refused at once where the camera does not answer. */
  recall(presetId: string, pose: PresetPose): Promise<CameraResult>
  setFocusMode(auto: boolean): Promise<CameraResult>
  setPower(on: boolean): Promise<CameraResult>
  home(): Promise<CameraResult>
  /** A pose read after this call with the camera at rest; null where it did not come in time. */
  restingPose(timeoutMs: number): Promise<LivePose | null>
  close(): Promise<void>
}
