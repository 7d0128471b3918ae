/** All that the server has told this page, in one place. Components subscribe to single facts. */
import { afterLoss, type Fact, type FactKind, type FactValue } from '../../core/facts/facts'

const keyOf = (kind: FactKind, about: string) => `${kind} ${about}`

export class PageFacts {
  private readonly known = new Map<string, Fact>()
  private readonly listeners = new Map<string, Set<() => void>>()

  get<K extends FactKind>(kind: K, about: string): FactValue<K> | null {
    return (this.known.get(keyOf(kind, about))?.value ?? null) as FactValue<K> | null
  }

  subscribe(kind: FactKind, about: string, listener: () => void): () => void {
    const key = keyOf(kind, about)
    const set = this.listeners.get(key) ?? new Set()
    this.listeners.set(key, set.add(listener))
    return () => set.delete(listener)
  }

  take(facts: readonly Fact[]): void {
    for (const fact of facts) {
      const key = keyOf(fact.kind, fact.about)
      this.known.set(key, fact)
      for (const listener of this.listeners.get(key) ?? []) listener()
    }
  }

  /** The server is lost: what is no longer known is no longer claimed. */
  lose(): void {
    this.take(
      [...this.known.values()].map(
        ({ kind, about, value }) => ({ kind, about, value: afterLoss(kind, value as never) }) as Fact,
      ),
    )
  }
}
