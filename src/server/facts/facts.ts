/**
 * All that is known of the cameras, kept and told on. What changes often is gathered for a moment, so that
 * twenty moving heads are one message instead of twenty. This is the one of a single server; several would
 * pass their facts on to each other behind the same interface.
 */
import type { Fact, FactKind, FactValue } from '../../core/facts/facts'
import type { Clock } from '../cameras/clock'

export interface Facts {
  put<K extends FactKind>(kind: K, about: string, value: FactValue<K>): void
  get<K extends FactKind>(kind: K, about: string): FactValue<K> | null
  /** All that is known now, for a page that comes. */
  readonly all: Fact[]
  /** This camera is gone. */
  forget(about: string): void
  /** Tells at once what was gathered. */
  flush(): void
  listen(listener: (facts: Fact[]) => void): void
  close(): void
}

const GATHER_MS = 20
const GATHERED: ReadonlySet<FactKind> = new Set(['pose'])

/** Does it hold only what the next moment would bring anyway? */
export const isFleeting = (facts: readonly Fact[]): boolean => facts.every(({ kind }) => GATHERED.has(kind))

export class MemoryFacts implements Facts {
  private readonly known = new Map<string, Fact>()
  private readonly gathered = new Map<string, Fact>()
  private readonly listeners: ((facts: Fact[]) => void)[] = []
  private cancel: (() => void) | null = null

  constructor(private readonly clock: Clock) {}

  get all(): Fact[] {
    return [...this.known.values()]
  }

  get<K extends FactKind>(kind: K, about: string): FactValue<K> | null {
    return (this.known.get(`${kind} ${about}`)?.value ?? null) as FactValue<K> | null
  }

  put<K extends FactKind>(kind: K, about: string, value: FactValue<K>): void {
    const key = `${kind} ${about}`
    const fact = { kind, about, value } as unknown as Fact
    this.known.set(key, fact)
    // What follows from a pose must not be known before it, so that all goes out in its order.
    this.gathered.delete(key)
    this.gathered.set(key, fact)
    if (!GATHERED.has(kind)) this.flush()
    else this.cancel ??= this.clock.after(GATHER_MS, () => this.flush())
  }

  forget(about: string): void {
    for (const [key, fact] of this.known) if (fact.about === about) this.known.delete(key)
  }

  flush(): void {
    this.cancel?.()
    this.cancel = null
    if (this.gathered.size === 0) return
    const facts = [...this.gathered.values()]
    this.gathered.clear()
    for (const listener of this.listeners) listener(facts)
  }

  listen(listener: (facts: Fact[]) => void): void {
    this.listeners.push(listener)
  }

  close(): void {
    this.cancel?.()
    this.listeners.length = 0
  }
}
