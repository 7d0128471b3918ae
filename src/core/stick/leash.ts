/**
 * The leash: a stick told as short moves that end by themselves, so that a head whose link is cut does not
 * run on. Each goes to a point a little ahead, and is renewed long before it is reached.
 */

/** How far ahead the point is, s. With braking, a head that hears nothing more stands within a second. */
export const LEASH_S = 0.6
/** How often it is renewed, ms. */
export const LEASH_EVERY_MS = 150

interface Ends {
  min: number
  max: number
}

/**
 * Where an axis is sent.
 * @param at where it stands by now, in any unit
 * @param speed signed, that unit per second; 0 holds it where it is
 */
export function leashPoint(at: number, speed: number, { min, max }: Ends): number {
  const ahead = at + speed * LEASH_S
  // A stick does not pull back an axis that is already beyond its limits.
  return Math.min(Math.max(max, at), Math.max(Math.min(min, at), ahead))
}

/** A lens that zooms to a point at its own speed: it is led along, so that its mean speed is the hand's. */
export class LeashLead {
  private point: number | null = null
  private atMs = 0

  /** @returns the next point; called every LEASH_EVERY_MS */
  next(at: number, speed: number, ends: Ends, nowMs: number): number {
    const from = this.point !== null && nowMs - this.atMs < 3 * LEASH_EVERY_MS ? this.point : at
    const seconds = this.point === null ? LEASH_EVERY_MS / 1000 : (nowMs - this.atMs) / 1000
    // Never further ahead of the lens than the leash is long.
    const most = Math.abs(speed) * LEASH_S
    const wanted = from + speed * Math.min(seconds, LEASH_S)
    this.point = Math.min(ends.max, Math.max(ends.min, Math.min(at + most, Math.max(at - most, wanted))))
    this.atMs = nowMs
    return this.point
  }

  end(): void {
    this.point = null
  }
}
