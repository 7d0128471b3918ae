/** What the rest of the server sees of a camera, whatever links and protocols are behind it. */
import type { Mount } from '../../core/cameras/connection'
import type { Light } from '../../core/cameras/light'
import type { Capabilities } from '../../core/facts/capabilities'
import type { FactKind, FactValue } from '../../core/facts/facts'
import type { Health } from '../../core/facts/health'
import type { HeadRanges } from '../../core/heads/check'
import type { HeadProfile } from '../../core/heads/profile'
import type { Learnt } from '../../core/motion/follow/ledger'
import type { MoveRecord } from '../../core/motion/follow/record'
import type { MoveTrajectory } from '../../core/motion/plan/types'
import type { CameraOrder } from '../../core/orders/orders'
import type { Pace, Parts } from '../../core/presets/pace'
import type { LivePose, PresetPose, Tolerance } from '../../core/presets/pose'
import type { Travel } from '../../core/presets/standing'
import type { Limits, Push } from '../../core/stick/speeds'

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
  /** Exposure and white balance; null if none were stored. */
  light: Light | null
  pace: Pace
  /** It takes no less than this, whatever its pace, s. */
  atLeastSeconds?: number | null
  parts: Parts
  /** The camera holds its picture while it travels, where it can. */
  hold: boolean
  /** The way to it, from where the camera stands; without one it is planned. */
  along?: MoveTrajectory | null
}

/** A pose at rest. `focused`: the focus stood still as well. */
export type RestingPose = LivePose & { focused: boolean }

/**
 * `ask`: it is done once somebody has confirmed it. `refused`: the camera answered that it does not do this now; `unknown`: that it does not know such an
 * order. Any other failure leaves it in doubt.
 */
export type CameraResult =
  /** `said`: it was done in another way than it was asked. */
  | { ok: true; said?: string }
  | { ok: false; message: string; refused?: boolean; unknown?: boolean; ask?: boolean }

export const DONE: CameraResult = { ok: true }

export interface CameraEvents {
  fact<K extends FactKind>(kind: K, value: FactValue<K>): void
  /** A sentence for the operator. */
  notice(text: string): void
  /** What it makes of the speeds that it is told, to be kept with it. */
  learnt?(learnt: Learnt): void
}

/** Orders that need nothing but the camera; the others the gate takes apart first. */
export type OwnOrder = Exclude<CameraOrder, { t: 'recall' | 'goToPose' | 'replay' | 'startRound' }>

export interface Camera {
  readonly profile: HeadProfile
  /** How far off counts as being there. */
  readonly arrival: Tolerance
  readonly pose: LivePose | null
  readonly health: Health
  readonly travel: Travel | null
  readonly capabilities: Capabilities
  /** What is odd about it, and what was learnt of it, in sentences. */
  readonly quirks: readonly string[]
  /** How far its head goes, where it tells that itself. */
  readonly ranges: HeadRanges | null
  /** Is it moving, or about to, because of an order or a hand? */
  readonly busy: boolean
  /** Is a recall of a memory still under way, as far as the camera tells? */
  readonly memoryRuns: boolean
  /** Settings that can change without a new driver. */
  configure(settings: CameraTuning): void
  /** Drives at once, as the operator sees it; all zero is a stop, which is repeated until the camera answers. */
  drive(push: Push): void
  /** A finger holds the point (u, v) of the picture, -1..1; the point stays under it until it is lifted. */
  /** `most`: the share of its top speed with which it follows. */
  finger(phase: 'down' | 'move' | 'up', u: number, v: number, most?: number): void
  /** The newest move that followed a plan; null before the first. */
  readonly lastMove: MoveRecord | null
  /** It came on air: what it does by itself goes on gently, and takes at least this long, s. */
  ease(seconds: number): void
  /** Stops whatever it does, a travel too. */
  halt(): void
  perform(order: OwnOrder): Promise<CameraResult>
  /** Starts to travel to a preset. Refused at once where the camera does not answer. */
  recall(recall: Recall): Promise<CameraResult>
  /** Recalls a preset that is kept in the camera's own memory alone. */
  recallMemory(presetId: string, number: number): Promise<CameraResult>
  /** Exposure and white balance as they are now; null if it does not report it. */
  light(): Promise<Light | null>
  /**
   * A pose read after this call with the camera at rest and, where its focus is automatic, the focus too;
   * without the focus when the time is over, null if it did not come to rest.
   */
  restingPose(timeoutMs: number): Promise<RestingPose | null>
  close(): Promise<void>
}

export const CANNOT = (what: string): CameraResult => ({ ok: false, message: `This camera cannot ${what}.` })
