/**
 * Fingers, mouse and wheel on the map: dragging moves it, two fingers or the wheel bring it closer, a touch is a
 * touch, and with a tool that wants one, a drag draws a box. The map itself is moved without React.
 */
import { type RefObject, useEffect, useRef } from 'react'
import type { Px } from '../../core/survey/map'
import { type Extent, held, type Size, type Viewport, zoomed } from './viewport'

/** Below this it was a touch, px. */
const TOUCH_PX = 7
const WHEEL = 0.0016

export interface MapHand {
  /** A drag draws a box instead of moving the map. */
  boxes: boolean
  onMove(view: Viewport): void
  onTouch(at: Px): void
  /** Null: it was given up. */
  onBox(box: { a: Px; b: Px } | null, done: boolean): void
}

export function useMapHand(
  ref: RefObject<HTMLElement | null>,
  map: Extent,
  size: Size,
  view: RefObject<Viewport>,
  hand: MapHand,
): void {
  const current = useRef({ map, size, hand })
  current.current = { map, size, hand }
  useEffect(() => {
    const element = ref.current
    if (!element) return
    const fingers = new Map<number, Px>()
    let from: Px | null = null
    let far = false
    const at = (event: PointerEvent | WheelEvent): Px => {
      const { left, top } = element.getBoundingClientRect()
      return { x: event.clientX - left, y: event.clientY - top }
    }
    const middle = () => {
      const all = [...fingers.values()]
      const x = all.reduce((sum, p) => sum + p.x, 0) / all.length
      const y = all.reduce((sum, p) => sum + p.y, 0) / all.length
      const spread = all.length > 1 ? Math.hypot(all[0]!.x - all[1]!.x, all[0]!.y - all[1]!.y) : 0
      return { x, y, spread }
    }
    const moveTo = (next: Viewport) => {
      view.current = next
      current.current.hand.onMove(next)
    }
    const down = (event: PointerEvent) => {
      // A label or a key on the map is its own.
      if ((event.target as HTMLElement).closest('[role="button"], button')) return
      element.setPointerCapture(event.pointerId)
      fingers.set(event.pointerId, at(event))
      if (fingers.size === 1) {
        from = at(event)
        far = false
      } else {
        if (from && current.current.hand.boxes) current.current.hand.onBox(null, true)
        from = null
      }
    }
    const move = (event: PointerEvent) => {
      if (!fingers.has(event.pointerId)) return
      const before = middle()
      fingers.set(event.pointerId, at(event))
      const now = middle()
      const { map, size, hand } = current.current
      if (from && Math.hypot(now.x - from.x, now.y - from.y) > TOUCH_PX) far = true
      if (fingers.size === 1 && hand.boxes) {
        if (from && far) hand.onBox({ a: from, b: at(event) }, false)
        return
      }
      if (fingers.size === 1 && !far && from) return
      const moved = {
        ...view.current,
        x: view.current.x + now.x - before.x,
        y: view.current.y + now.y - before.y,
      }
      const factor = before.spread > 0 && now.spread > 0 ? now.spread / before.spread : 1
      moveTo(factor === 1 ? held(map, size, moved) : zoomed(map, size, moved, factor, now))
    }
    const up = (event: PointerEvent) => {
      if (!fingers.delete(event.pointerId)) return
      const { hand } = current.current
      if (from && event.type === 'pointerup') {
        if (!far) hand.onTouch(at(event))
        else if (hand.boxes) hand.onBox({ a: from, b: at(event) }, true)
      } else if (from && hand.boxes) hand.onBox(null, true)
      from = null
    }
    const wheel = (event: WheelEvent) => {
      event.preventDefault()
      const { map, size } = current.current
      moveTo(zoomed(map, size, view.current, Math.exp(-event.deltaY * WHEEL), at(event)))
    }
    element.addEventListener('pointerdown', down)
    element.addEventListener('pointermove', move)
    element.addEventListener('pointerup', up)
    element.addEventListener('pointercancel', up)
    element.addEventListener('wheel', wheel, { passive: false })
    return () => {
      element.removeEventListener('pointerdown', down)
      element.removeEventListener('pointermove', move)
      element.removeEventListener('pointerup', up)
      element.removeEventListener('pointercancel', up)
      element.removeEventListener('wheel', wheel)
    }
  }, [ref, view])
}
