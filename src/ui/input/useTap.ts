/**
 * A tap that acts when the finger is lifted. A click comes some 8 ms later, after the browser has made
 * sure of it: too long where a shot is waited for. Keys and screen readers press as always.
 */
import { useMemo, useRef } from 'react'
import type { PointerEvent as NativePointerEvent } from 'react-native'

/** A finger that went farther was meant for something else, px. */
const SLIP = 10
/** Held for longer it is no tap, ms. */
const LONGEST_MS = 450
/** The click that follows a tap comes within this, ms. */
const CLICK_MS = 700

interface Place {
  x: number
  y: number
  atMs: number
}

/** @param act what a tap does; null while it is an ordinary press */
export function useTap(act: (() => void) | null, press: () => void) {
  const now = useRef({ act, press })
  now.current = { act, press }
  const down = useRef<Place | null>(null)
  const tappedAtMs = useRef(Number.NEGATIVE_INFINITY)
  return useMemo(
    () => ({
      onPointerDown({ nativeEvent: e }: NativePointerEvent) {
        down.current = { x: e.clientX, y: e.clientY, atMs: performance.now() }
      },
      // The browser scrolls: the finger was not meant for this.
      onPointerCancel() {
        down.current = null
      },
      onPointerUp({ nativeEvent: e }: NativePointerEvent) {
        const from = down.current
        down.current = null
        const { act: tap } = now.current
        if (!from || !tap || e.button > 0) return
        if (Math.hypot(e.clientX - from.x, e.clientY - from.y) > SLIP) return
        if (performance.now() - from.atMs > LONGEST_MS) return
        tappedAtMs.current = performance.now()
        tap()
      },
      onPress() {
        if (performance.now() - tappedAtMs.current > CLICK_MS) now.current.press()
        tappedAtMs.current = Number.NEGATIVE_INFINITY
      },
    }),
    [],
  )
}
