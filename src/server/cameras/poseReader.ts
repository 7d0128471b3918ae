/** Reads where a camera stands from its parts, and looks again where no further reading comes. */
import type { LivePose } from '../../core/presets/pose'
import type { Clock } from './clock'
import { joinedPose, LATE_MS, type Parts, readAtMs } from './joined'

/** What was told to move is looked at closely for this long after. */
const JUST_MOVED_MS = 1500
const LOOK_AGAIN_MS = 250

export interface PoseReaderHost {
  hfovDeg(zoom: number): number
  /** Its picture is held. */
  held(): boolean
  /** It is driven, or on its way. */
  restless(): boolean
  /** It is to be read again. */
  lookAgain(): void
}

export class PoseReader {
  private cancel: () => void = () => {}
  private restlessMs = Number.NEGATIVE_INFINITY

  constructor(
    private readonly parts: Parts,
    private readonly host: PoseReaderHost,
    private readonly clock: Clock,
  ) {}

  read(): LivePose | null {
    const { parts, host, clock } = this
    const nowMs = clock.now()
    if (host.restless()) this.restlessMs = nowMs
    const justMoved = nowMs - this.restlessMs < JUST_MOVED_MS
    const pose = joinedPose(parts, host.hfovDeg, {
      wallMs: clock.wall() - nowMs,
      nowMs,
      held: host.held(),
      restless: justMoved,
    })
    // So that an old pose does not pass for a new one.
    this.cancel()
    if (pose?.moving || justMoved) {
      const lateInMs = readAtMs(parts, nowMs) + LATE_MS + 1 - nowMs
      this.cancel = clock.after(lateInMs > 0 ? lateInMs : LOOK_AGAIN_MS, () => host.lookAgain())
    }
    return pose
  }

  close(): void {
    this.cancel()
  }
}
