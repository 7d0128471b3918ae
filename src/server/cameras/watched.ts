/** A value that is read again and again, and whether it changes. */
export class Watched<T extends readonly (number | null)[]> {
  private last: { value: T; atMs: number } | null = null
  private changedAtMs = Number.NEGATIVE_INFINITY
  private moves = false

  /** @param restMs unchanged for this long it stands still */
  constructor(private readonly restMs: number) {}

  /** @param atMs when the value was true */
  take(value: T, atMs: number): void {
    if (!this.last || value.some((x, i) => x !== this.last!.value[i])) this.changedAtMs = atMs
    this.moves = atMs - this.changedAtMs < this.restMs
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

  get value(): T | null {
    return this.last?.value ?? null
  }

  get atMs(): number {
    return this.last?.atMs ?? Number.NEGATIVE_INFINITY
  }
}
