/** Slows down guessing: for the address that guesses, and for nobody else. */
const TRIES = 10
const WITHIN_MS = 60_000
const MOST_KEPT = 10_000

export class Tries {
  /** When each gave a wrong one. */
  private readonly wrong = new Map<string, number[]>()

  /** @param most wrong ones within a minute */
  constructor(private readonly most = TRIES) {}

  /** Has it been wrong too often to be heard now? */
  mustWait(from: string, nowMs: number): boolean {
    return this.recent(from, nowMs).length >= this.most
  }

  failed(from: string, nowMs: number): void {
    const recent = this.recent(from, nowMs)
    this.wrong.delete(from)
    this.wrong.set(from, [...recent, nowMs])
    // The oldest are dropped: any number of addresses must not fill the memory.
    if (this.wrong.size > MOST_KEPT) this.wrong.delete(this.wrong.keys().next().value!)
  }

  succeeded(from: string): void {
    this.wrong.delete(from)
  }

  private recent(from: string, nowMs: number): number[] {
    return (this.wrong.get(from) ?? []).filter((t) => nowMs - t < WITHIN_MS)
  }
}
