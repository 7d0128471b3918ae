/** What follows from a topic; a component is drawn anew only when that changes, and not too often. */
import { useEffect, useRef, useState } from 'react'
import { live, type Topics } from './live'

/**
 * @param select what is wanted of the topic's value; compared as JSON
 * @param everyMs at most so often, ms; 0: each change
 */
export function useLiveValue<K extends keyof Topics, T>(
  topic: K,
  select: (value: Topics[K] | undefined) => T,
  everyMs = 0,
): T {
  const current = useRef(select)
  current.current = select
  const read = () => current.current(live().get(topic) as Topics[K] | undefined)
  const [value, setValue] = useState(read)
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is read follows from the topic
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | null = null
    let drawnAtMs = Number.NEGATIVE_INFINITY
    const draw = () => {
      timer = null
      drawnAtMs = performance.now()
      setValue((before) => {
        const next = read()
        return JSON.stringify(next) === JSON.stringify(before) ? before : next
      })
    }
    const look = () => {
      if (timer) return
      const wait = drawnAtMs + everyMs - performance.now()
      if (wait <= 0) draw()
      else timer = setTimeout(draw, wait)
    }
    draw()
    const stop = live().subscribe(topic, look)
    return () => {
      stop()
      if (timer) clearTimeout(timer)
    }
  }, [topic, everyMs])
  return value
}
