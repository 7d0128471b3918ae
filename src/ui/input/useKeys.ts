/** The keyboard on the Desk, by the person's own keys. Nothing acts while a name is typed or a sheet is open. */
import { useEffect, useRef } from 'react'
import { type ActionName, actionOf, isHeld } from '../../core/controls/actions'
import { controlsNow } from './controlsStore'
import { type HandPush, sticks } from './sticks'

export const HELD_PUSHES: Partial<Record<ActionName, HandPush>> = {
  driveLeft: { pan: -0.35 },
  driveRight: { pan: 0.35 },
  driveUp: { tilt: 0.35 },
  driveDown: { tilt: -0.35 },
  zoomIn: { zoom: 0.5 },
  zoomOut: { zoom: -0.5 },
  focusNear: { focus: -0.6 },
  focusFar: { focus: 0.6 },
}

export type PressActions = Partial<Record<ActionName, () => void>>

export interface KeyHandlers {
  /** What each action does; those that are held act by themselves. */
  press: PressActions
  digit(digit: string): void
  /** @returns whether it meant something */
  enter(): boolean
}

/** Is something open that takes the keys for itself? */
function typing(target: EventTarget | null): boolean {
  if (document.querySelector('[aria-modal="true"]')) return true
  const element = target instanceof HTMLElement ? target : null
  return !!element && (element.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(element.tagName))
}

/** A key as bindings name it. */
export const keyNameOf = (event: KeyboardEvent): string => event.key.toLowerCase()

/** An action begins or ends to be held; others act when they begin. */
export function holdAction(source: string, name: ActionName, down: boolean, press: PressActions): void {
  const push = HELD_PUSHES[name]
  if (push) sticks.push(source, down ? push : null)
  else if (name === 'slow' || name === 'fast') sticks.setPace(down ? name : 'usual')
  else if (down) press[name]?.()
}

export function useKeys(handlers: KeyHandlers): void {
  const current = useRef(handlers)
  current.current = handlers
  useEffect(() => {
    /** What each key that is down has begun, so that it ends even where the key means another thing by then. */
    const down = new Map<string, ActionName>()
    const onDown = (event: KeyboardEvent) => {
      if (typing(event.target) || event.metaKey || event.altKey) return
      // A key is known by what it prints; those of the keyboard's own shortcuts stay the browser's.
      if (event.ctrlKey && event.key.length === 1) return
      const key = keyNameOf(event)
      const name = actionOf(key, controlsNow().keys)
      if (name) {
        // The key must not be typed into what it opens.
        if (isHeld(name) || event.key.length === 1) event.preventDefault()
        // A key that repeats is still the same press.
        if (event.repeat || down.has(event.code)) return
        if (isHeld(name)) down.set(event.code, name)
        holdAction(`key-${event.code}`, name, true, current.current.press)
        return
      }
      if (event.repeat) return
      if (/^\d$/.test(event.key)) current.current.digit(event.key)
      else if (event.key === 'Enter' && current.current.enter()) {
        // Whatever has the focus must not be pressed too.
        event.preventDefault()
        event.stopPropagation()
      }
    }
    const onUp = (event: KeyboardEvent) => {
      const name = down.get(event.code)
      if (!name) return
      down.delete(event.code)
      holdAction(`key-${event.code}`, name, false, current.current.press)
    }
    const onBlur = () => down.clear()
    window.addEventListener('keydown', onDown, true)
    window.addEventListener('keyup', onUp)
    window.addEventListener('blur', onBlur)
    return () => {
      window.removeEventListener('keydown', onDown, true)
      window.removeEventListener('keyup', onUp)
      window.removeEventListener('blur', onBlur)
    }
  }, [])
}
