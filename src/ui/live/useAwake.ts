/** Keeps the screen from going dark while somebody works with the page; browsers allow it where they can. */
import { useEffect } from 'react'

export function useAwake(): void {
  useEffect(() => {
    let lock: WakeLockSentinel | null = null
    let gone = false
    const ask = async () => {
      if (document.hidden || lock) return
      const got = await navigator.wakeLock?.request('screen').catch(() => null)
      if (!got) return
      if (gone) return void got.release()
      lock = got
      got.addEventListener('release', () => {
        lock = null
      })
    }
    // A hidden page loses it.
    const again = () => void ask()
    void ask()
    document.addEventListener('visibilitychange', again)
    return () => {
      gone = true
      document.removeEventListener('visibilitychange', again)
      void lock?.release()
    }
  }, [])
}
