/** What follows from a fact; a component is redrawn only when that changes, and not too often. */
import { useMemo, useRef, useSyncExternalStore } from 'react'
import type { FactKind, FactValue } from '../../core/facts/facts'
import { live } from './live'

/** Calls back at most once per interval, and finally with the newest value. */
function throttled(listener: () => void, everyMs: number) {
  let timer: ReturnType<typeof setTimeout> | null = null
  let calledAtMs = Number.NEGATIVE_INFINITY
  const call = () => {
    timer = null
    calledAtMs = performance.now()
    listener()
  }
  return {
    call() {
      if (timer) return
      const wait = calledAtMs + everyMs - performance.now()
      if (wait <= 0) call()
      else timer = setTimeout(call, wait)
    },
    cancel() {
      if (timer) clearTimeout(timer)
    },
  }
}

/**
 * @param select what is wanted of the fact; compared as JSON
 * @param everyMs at most so often, ms; 0: each change
 */
export function useFactValue<K extends FactKind, T>(
  kind: K,
  about: string,
  select: (value: FactValue<K> | null) => T,
  everyMs = 0,
): T {
  const current = useRef(select)
  current.current = select
  const store = useMemo(() => {
    let known: { text: string; value: T } | null = null
    return {
      subscribe(listener: () => void) {
        const { call, cancel } = throttled(listener, everyMs)
        const stop = live().facts.subscribe(kind, about, call)
        return () => {
          stop()
          cancel()
        }
      },
      read(): T {
        const value = current.current(live().fact(kind, about))
        const text = JSON.stringify(value) ?? ''
        if (known?.text !== text) known = { text, value }
        return known.value
      },
    }
  }, [kind, about, everyMs])
  return useSyncExternalStore(store.subscribe, store.read)
}
