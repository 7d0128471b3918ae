/** Tells when a camera stands still, its focus too: what is stored must be where it has come to rest. */
import type { LivePose } from '../../core/presets/pose'
import type { RestingPose } from './camera'
import type { Clock } from './clock'
import type { Parts } from './joined'

const LOOK_EVERY_MS = 20
/** A focus that did not change for this long stands still, ms. */
const FOCUS_RESTS_MS = 130
/** How long after the head has come to rest an automatic focus may still begin to search, ms. */
const FOCUS_BEGINS_MS = 450

export class RestWatch {
  private pose: LivePose | null = null
  private movedAtMs = Number.NEGATIVE_INFINITY
  private focusedAtMs = Number.NEGATIVE_INFINITY
  private closed = false

  constructor(
    private readonly parts: Parts,
    private readonly clock: Clock,
  ) {}

  see(pose: LivePose | null): void {
    const now = this.clock.now()
    if (pose?.moving) this.movedAtMs = now
    if (pose?.focus !== this.pose?.focus) this.focusedAtMs = now
    this.pose = pose
  }

  /** A pose read after this call; see Camera.restingPose. */
  async rest(timeoutMs: number): Promise<RestingPose | null> {
    const { clock, parts } = this
    const since = clock.now()
    let resting: LivePose | null = null
    while (clock.now() - since < timeoutMs && !this.closed) {
      resting = this.standsSince(since) ? this.pose : null
      if (resting && this.focusStands(resting, since)) return { ...resting, focused: true }
      for (const body of new Set([parts.head, parts.lens])) body.readSoon()
      await new Promise<void>((resolve) => clock.after(LOOK_EVERY_MS, resolve))
    }
    return resting && { ...resting, focused: false }
  }

  close(): void {
    this.closed = true
  }

  private standsSince(atMs: number): boolean {
    const head = this.parts.head.reading
    const lens = this.parts.lens.reading
    if (head.panTiltMoving || lens.zoomMoving) return false
    const { position } = this.parts.head.traits
    const zooms = this.parts.lens.traits.position.zoom
    return (!position.panTilt || head.panTiltAtMs > atMs) && (!zooms || lens.zoomAtMs > atMs)
  }

  private focusStands(pose: LivePose, since: number): boolean {
    // One that tells its focus mode has told it before it counts as known.
    if (pose.focusAuto === null && this.parts.lens.orders.focusMode) return false
    if (pose.focus === null) return true
    const { focusAtMs } = this.parts.lens.reading
    // Set by hand it stands, but what was read before the store was asked for may be older than that hand.
    if (!pose.focusAuto) return focusAtMs > since
    const now = this.clock.now()
    return (
      focusAtMs > since + FOCUS_RESTS_MS &&
      now - this.focusedAtMs > FOCUS_RESTS_MS &&
      now - this.movedAtMs > FOCUS_BEGINS_MS
    )
  }
}
