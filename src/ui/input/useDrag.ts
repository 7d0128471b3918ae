/** Follows one finger on a control from touch to release, wherever it slips to. */
import { useMemo, useRef } from 'react'
import type { PointerEvent as RNPointerEvent } from 'react-native'

export interface DragPoint {
  /** Offset from the control's top left corner, px. */
  x: number
  y: number
  width: number
  height: number
}

interface Handlers {
  onMove(point: DragPoint): void
  onEnd(): void
}

/** If the browser has them (on secure pages), moves arrive at once instead of with the next frame. */
const RAW = 'pointerrawupdate'
const hasRaw = typeof window !== 'undefined' && `on${RAW}` in window

/** Spread the result over a View. Several controls can be held at once, each by its own finger. */
export function useDrag(handlers: Handlers) {
  const current = useRef(handlers)
  current.current = handlers
  const finger = useRef<number | null>(null)
  return useMemo(() => {
    const pointOn = (element: HTMLElement, native: PointerEvent): DragPoint => {
      const box = element.getBoundingClientRect()
      return {
        x: native.clientX - box.left,
        y: native.clientY - box.top,
        width: box.width,
        height: box.height,
      }
    }
    const point = (event: RNPointerEvent): DragPoint =>
      pointOn(event.currentTarget as unknown as HTMLElement, event.nativeEvent as unknown as PointerEvent)
    let stopRaw = () => {}
    const listenRaw = (element: HTMLElement) => {
      if (!hasRaw) return
      const raw = (event: Event) => {
        const native = event as PointerEvent
        if (native.pointerId === finger.current) current.current.onMove(pointOn(element, native))
      }
      element.addEventListener(RAW, raw)
      stopRaw = () => element.removeEventListener(RAW, raw)
    }
    const id = (event: RNPointerEvent) => event.nativeEvent.pointerId
    const end = (event: RNPointerEvent) => {
      if (id(event) !== finger.current) return
      finger.current = null
      stopRaw()
      current.current.onEnd()
    }
    return {
      onPointerDown(event: RNPointerEvent) {
        if (finger.current !== null) return
        const native = event.nativeEvent as unknown as PointerEvent
        if (native.button !== 0) return
        finger.current = id(event)
        // Captured: a finger that slips off the control still belongs to it.
        ;(event.currentTarget as unknown as HTMLElement).setPointerCapture(id(event))
        native.preventDefault?.()
        listenRaw(event.currentTarget as unknown as HTMLElement)
        current.current.onMove(point(event))
      },
      onPointerMove(event: RNPointerEvent) {
        if (!hasRaw && id(event) === finger.current) current.current.onMove(point(event))
      },
      onPointerUp: end,
      onPointerCancel: end,
      onLostPointerCapture: end,
    }
  }, [])
}
