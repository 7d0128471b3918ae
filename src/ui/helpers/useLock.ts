/** Keeps a page from being left by accident: the whole screen, and no way back but the one that is meant. */
import { useCallback, useEffect, useState } from 'react'

const KEPT_AS = 'heron-locked'

function kept(): boolean {
  try {
    return localStorage.getItem(KEPT_AS) === '1'
  } catch {
    return false
  }
}

function keep(locked: boolean): void {
  try {
    if (locked) localStorage.setItem(KEPT_AS, '1')
    else localStorage.removeItem(KEPT_AS)
  } catch {
    // Then it lasts as long as the page.
  }
}

const fill = () => void document.documentElement.requestFullscreen?.().catch(() => {})

export function useLock() {
  const [locked, setLocked] = useState(kept)
  const [full, setFull] = useState(() => document.fullscreenElement !== null)
  useEffect(() => {
    const look = () => setFull(document.fullscreenElement !== null)
    document.addEventListener('fullscreenchange', look)
    return () => document.removeEventListener('fullscreenchange', look)
  }, [])
  useEffect(() => {
    if (!locked) return
    // A swipe back comes back to here.
    const stay = () => history.pushState(null, '', location.href)
    stay()
    const ask = (event: BeforeUnloadEvent) => event.preventDefault()
    const noMenu = (event: Event) => event.preventDefault()
    window.addEventListener('popstate', stay)
    window.addEventListener('beforeunload', ask)
    window.addEventListener('contextmenu', noMenu)
    return () => {
      window.removeEventListener('popstate', stay)
      window.removeEventListener('beforeunload', ask)
      window.removeEventListener('contextmenu', noMenu)
    }
  }, [locked])
  const lock = useCallback(() => {
    keep(true)
    setLocked(true)
    fill()
  }, [])
  const unlock = useCallback(() => {
    keep(false)
    setLocked(false)
    if (document.fullscreenElement) void document.exitFullscreen().catch(() => {})
  }, [])
  return { locked, full, lock, unlock, fill }
}
