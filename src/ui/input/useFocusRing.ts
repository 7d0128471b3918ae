/** A ring around what the keyboard is on; a finger or a mouse leaves none behind. */
import { useMemo, useState } from 'react'
import type { BlurEvent, FocusEvent } from 'react-native'

export function useFocusRing() {
  const [ring, setRing] = useState(false)
  const handlers = useMemo(
    () => ({
      onFocus(event: FocusEvent) {
        const target = event.target as unknown as HTMLElement
        setRing(typeof target.matches === 'function' && target.matches(':focus-visible'))
      },
      onBlur(_event: BlurEvent) {
        setRing(false)
      },
    }),
    [],
  )
  return { ring, handlers }
}
