/** A value that is read again and again, and whether it changes. */

/** Devices renew what they report at 5 to 20 Hz: changes further apart than this are not one motion, ms. */
const SLOWEST_RENEWAL_MS = 400
/** It stands when it has not changed for so many of its renewals. */
const RENEWALS = 1.6

export class Watched<T extends readonly (number | null)[]> {
  private last: { value: T; atMs: number } | null = null
  private changedAtMs = Number.NEGATIVE_INFINITY
  private moves = false
  /** How far apart its changes come while it moves, ms. */
  private renewalMs = 0

  /** @param restMs unchanged for this long it stands still */
  constructor(private readonly restMs: number) {}

  /** @param atMs when the value was true */
  take(value: T, atMs: number): void {
    if (this.last && value.some((x, i) => x !== this.last!.value[i])) {
      const apart = atMs - this.changedAtMs
      if (apart > 0 && apart < SLOWEST_RENEWAL_MS)
        this.renewalMs += (apart - this.renewalMs) * (apart > this.renewalMs ? 0.5 : 0.1)
      this.changedAtMs = atMs
    } else if (!this.last) this.changedAtMs = atMs
    this.moves = atMs - this.changedAtMs < Math.max(this.restMs, RENEWALS * this.renewalMs)
    this.last = { value, atMs }
  }

  /** It may have changed unseen: what was read counts no longer. */
  forget(): void {
    this.last = null
    this.moves = false
  }

  get moving(): boolean {
    return this.moves
  }

  /** Since when it has stood at what it is, ms; null while it moves or is not known. */
  get stoodSinceMs(): number | null {
    return this.last && !this.moves ? this.changedAtMs : null
  }

  get value(): T | null {
    return this.last?.value ?? null
  }

  get atMs(): number {
    return this.last?.atMs ?? Number.NEGATIVE_INFINITY
  }
}
