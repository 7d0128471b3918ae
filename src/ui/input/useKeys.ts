/** The keyboard on the Desk. Nothing acts while a name is being typed or a sheet is open. */
import { useEffect, useRef } from 'react'
import { type Push, sticks } from './sticks'

const HELD: Record<string, Push> = {
  ArrowLeft: { pan: -0.6 },
  ArrowRight: { pan: 0.6 },
  ArrowUp: { tilt: 0.6 },
  ArrowDown: { tilt: -0.6 },
  PageUp: { zoom: 0.7 },
  PageDown: { zoom: -0.7 },
}

/** Is something open that takes the keys for itself? */
function typing(target: EventTarget | null): boolean {
  if (document.querySelector('[aria-modal="true"]')) return true
  const element = target instanceof HTMLElement ? target : null
  return !!element && (element.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(element.tagName))
}

interface Actions {
  digit(digit: string): void
  enter(): boolean
  store(): void
  toggleFocus(): void
  /** The next number is a camera's. */
  cameraNumber(): void
  /** The camera before or after in the list. */
  neighbour(step: 1 | -1): void
  allPictures(): void
  home(): void
  stop(): void
}

const plain: Record<string, (actions: Actions) => void> = {
  escape: (a) => a.stop(),
  s: (a) => a.store(),
  f: (a) => a.toggleFocus(),
  c: (a) => a.cameraNumber(),
  '[': (a) => a.neighbour(-1),
  ']': (a) => a.neighbour(1),
  g: (a) => a.allPictures(),
  h: (a) => a.home(),
}

export function useKeys(actions: Actions): void {
  const current = useRef(actions)
  current.current = actions
  useEffect(() => {
    const down = (event: KeyboardEvent) => {
      if (typing(event.target) || event.ctrlKey || event.metaKey || event.altKey) return
      const held = HELD[event.key]
      if (held) {
        event.preventDefault()
        if (event.repeat) return
        const slow = event.shiftKey ? 0.4 : 1
        const push = Object.fromEntries(Object.entries(held).map(([axis, x]) => [axis, x * slow]))
        sticks.push(event.key, push)
        return
      }
      if (event.repeat) return
      const now = current.current
      if (/^\d$/.test(event.key)) now.digit(event.key)
      else if (event.key === 'Enter') {
        if (now.enter()) event.preventDefault()
      } else plain[event.key.toLowerCase()]?.(now)
    }
    const up = (event: KeyboardEvent) => {
      if (HELD[event.key]) sticks.push(event.key, null)
    }
    window.addEventListener('keydown', down)
    window.addEventListener('keyup', up)
    return () => {
      window.removeEventListener('keydown', down)
      window.removeEventListener('keyup', up)
    }
  }, [])
}
