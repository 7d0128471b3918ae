/** Writes down who did what, a moment later, so that nothing that drives waits for the database. */
import type { EntryKind } from '../../core/people/journal'
import type { Clock } from '../cameras/clock'
import type { NewEntry } from '../store/journal'

const GATHER_MS = 300
/** While the database is away; the oldest are lost first. */
const MOST_WAITING = 20_000
const AT_ONCE = 500
const AGAIN_MS = 2000
/** The same again within this time is told once, with how often, ms. */
const SAME_MS = 10_000

export interface NewLine {
  person: string
  kind: EntryKind
  camera: string
  what: string
  refused: string | null
}

export interface JournalDeps {
  clock: Clock
  wallMs(): number
  /** The event that is open; '' for none. */
  event(): string
  keep(entries: NewEntry[]): Promise<void>
  failed(error: unknown): void
}

export class Journal {
  private waiting: NewEntry[] = []
  private cancel: (() => void) | null = null
  private keeping: Promise<void> | null = null
  private readonly recent = new Map<string, number>()

  constructor(private readonly deps: JournalDeps) {}

  readonly write = (line: NewLine): void => {
    const now = this.deps.clock.now()
    // A stick that is refused is refused many times a second.
    if (line.refused !== null) {
      const key = JSON.stringify(line)
      const last = this.recent.get(key)
      if (last !== undefined && now - last < SAME_MS) return
      this.recent.delete(key)
      this.recent.set(key, now)
      if (this.recent.size > 500) this.recent.delete(this.recent.keys().next().value!)
    }
    const { person, kind, camera, what, refused } = line
    this.waiting.push({
      ...{ person, kind, camera, what: what.slice(0, 300), refused, eventName: this.deps.event() },
      at: new Date(this.deps.wallMs()),
    })
    if (this.waiting.length > MOST_WAITING) this.waiting.shift()
    this.later(GATHER_MS)
  }

  /** Resolves when all that was written is kept, or could not be. */
  async settled(): Promise<void> {
    this.cancel?.()
    this.cancel = null
    await (this.keeping ?? this.flush())
  }

  private later(ms: number): void {
    this.cancel ??= this.deps.clock.after(ms, () => {
      this.cancel = null
      void this.flush()
    })
  }

  private flush(): Promise<void> {
    if (this.keeping || this.waiting.length === 0) return this.keeping ?? Promise.resolve()
    const some = this.waiting.slice(0, AT_ONCE)
    this.keeping = this.deps
      .keep(some)
      .then(
        () => {
          const done = new Set(some)
          this.waiting = this.waiting.filter((entry) => !done.has(entry))
          if (this.waiting.length > 0) this.later(GATHER_MS)
        },
        (error) => {
          this.deps.failed(error)
          this.later(AGAIN_MS)
        },
      )
      .finally(() => {
        this.keeping = null
      })
    return this.keeping
  }
}
