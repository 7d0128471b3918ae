/** Recall by typed digits: at once where the number is sure, else after Enter or a pause. */
import { useCallback, useEffect, useRef, useState } from 'react'
import { typedNumber } from '../../core/presets/typedNumber'
import type { PresetView } from '../../server/api'
import { fault } from '../basics/notes'

const PAUSE_MS = 900

export function useDigits(presets: readonly PresetView[], onRecall: (id: string) => void) {
  const [typed, setTyped] = useState('')
  const timer = useRef<ReturnType<typeof setTimeout> | null>(null)

  const finish = useCallback(
    (text: string) => {
      if (timer.current) clearTimeout(timer.current)
      setTyped('')
      const preset = presets.find((p) => p.number === Number(text))
      if (preset) onRecall(preset.id)
      else fault(`There is no preset ${text} on this camera.`)
    },
    [presets, onRecall],
  )

  const digit = useCallback(
    (key: string) => {
      const answer = typedNumber(
        typed + key,
        presets.map((p) => p.number),
      )
      if (answer.kind === 'sure') return finish(String(answer.number))
      if (answer.kind === 'none') return finish(answer.typed)
      setTyped(answer.typed)
      if (timer.current) clearTimeout(timer.current)
      // Without Enter only a number that exists is recalled.
      timer.current = setTimeout(
        () => (answer.number === null ? setTyped('') : finish(answer.typed)),
        PAUSE_MS,
      )
    },
    [typed, presets, finish],
  )

  const enter = useCallback(() => {
    if (typed === '') return false
    finish(typed)
    return true
  }, [typed, finish])

  useEffect(() => () => void (timer.current && clearTimeout(timer.current)), [])
  return { typed, digit, enter }
}
