/** A number by typed digits: at once where it is sure, else after Enter or a pause. */
import { useCallback, useEffect, useRef, useState } from 'react'
import { typedNumber } from '../../core/presets/typedNumber'
import { fault } from '../basics/notes'

const PAUSE_MS = 900

interface Numbered {
  id: string
  number: number
}

/** @param missing what to say of a number that is not there */
export function useDigits(
  numbered: readonly Numbered[],
  onNumber: (id: string) => void,
  missing: (typed: string) => string,
) {
  const [typed, setTyped] = useState('')
  const timer = useRef<ReturnType<typeof setTimeout> | null>(null)

  const finish = useCallback(
    (text: string) => {
      if (timer.current) clearTimeout(timer.current)
      setTyped('')
      const found = numbered.find((p) => p.number === Number(text))
      if (found) onNumber(found.id)
      else fault(missing(text))
    },
    [numbered, onNumber, missing],
  )

  const digit = useCallback(
    (key: string) => {
      const answer = typedNumber(
        typed + key,
        numbered.map((p) => p.number),
      )
      if (answer.kind === 'sure') return finish(String(answer.number))
      if (answer.kind === 'none') return finish(answer.typed)
      setTyped(answer.typed)
      if (timer.current) clearTimeout(timer.current)
      // Without Enter only a number that exists counts.
      timer.current = setTimeout(
        () => (answer.number === null ? setTyped('') : finish(answer.typed)),
        PAUSE_MS,
      )
    },
    [typed, numbered, finish],
  )

  const enter = useCallback(() => {
    if (typed === '') return false
    finish(typed)
    return true
  }, [typed, finish])

  useEffect(() => () => void (timer.current && clearTimeout(timer.current)), [])
  return { typed, digit, enter }
}
