/** A number under which to store, typed and confirmed with Enter: never stored over something by a slip. */
import { useCallback, useState } from 'react'

const LONGEST = 4

export function useStoreNumber(onNumber: (number: number) => void) {
  const [typed, setTyped] = useState<string | null>(null)
  const start = useCallback(() => setTyped((now) => (now === null ? '' : null)), [])
  const cancel = useCallback(() => setTyped(null), [])
  const digit = useCallback(
    (key: string) => setTyped((now) => (now === null ? null : `${now}${key}`.slice(0, LONGEST))),
    [],
  )
  const enter = () => {
    if (typed === null) return false
    setTyped(null)
    if (Number(typed) > 0) onNumber(Number(typed))
    return true
  }
  /** Null while no number is asked for. */
  return { typed, start, cancel, digit, enter }
}
