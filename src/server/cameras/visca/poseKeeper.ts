/** Keeps what a camera reports together as one pose, and tells whether it moves. */
import type { HeadProfile } from '../../../core/heads/profile'
import { unitsToDeg } from '../../../core/heads/profile'
import type { Answer } from '../../../core/visca/inquiries'
import type { Reading } from '../body'
import { Watched } from '../watched'

/**
 * Unchanged for this long counts as rest, ms. The slowest heads need some 40 ms for one encoder step, so
 * two equal readings close together say nothing.
 */
const REST_MS = 100

export class PoseKeeper {
  power = true
  private readonly panTilt = new Watched<[number, number]>(REST_MS)
  private readonly zoom = new Watched<[number]>(REST_MS)
  private focusAuto: boolean | null = null
  private focus: number | null = null
  private focusAtMs = Number.NEGATIVE_INFINITY

  constructor(private readonly profile: HeadProfile) {}

  /** @param atMs when the answer was true, on the session's clock */
  take(answer: Answer, atMs: number): void {
    switch (answer.kind) {
      case 'ptPosition':
        this.panTilt.take([answer.pan, answer.tilt], atMs)
        return
      case 'zoomPosition':
        this.zoom.take([answer.position], atMs)
        return
      case 'focusMode':
        this.focusAuto = answer.auto
        return
      case 'focusPosition':
        this.focus = answer.position
        this.focusAtMs = atMs
        return
      case 'power':
        this.power = answer.on
    }
  }

  /** The camera may have moved unseen: what was read counts no longer. */
  forget(): void {
    this.panTilt.forget()
    this.zoom.forget()
    this.focusAuto = null
  }

  get moving(): boolean {
    return this.panTilt.moving || this.zoom.moving
  }

  /** Since when each stands, ms; null while it moves or is not known. */
  standing(): { panTilt: number | null; zoom: number | null } {
    return { panTilt: this.panTilt.stoodSinceMs, zoom: this.zoom.stoodSinceMs }
  }

  /** @param running is a recall of a memory under way? */
  reading(running: boolean): Reading {
    const pt = this.panTilt.value
    const zoom = this.zoom.value
    return {
      encoder: pt ? { pan: pt[0]!, tilt: pt[1]! } : null,
      panDeg: pt ? unitsToDeg(this.profile.pan, pt[0]!) : null,
      tiltDeg: pt ? unitsToDeg(this.profile.tilt, pt[1]!) : null,
      zoom: zoom ? zoom[0]! : null,
      focusAuto: this.focusAuto,
      focus: this.focus,
      focusAtMs: this.focusAtMs,
      power: this.power,
      panTiltMoving: this.panTilt.moving,
      zoomMoving: this.zoom.moving,
      panTiltAtMs: this.panTilt.atMs,
      zoomAtMs: this.zoom.atMs,
      running,
    }
  }
}
