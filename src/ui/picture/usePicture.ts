/** Shows a camera on a canvas, and tells how fresh that is. */
import { type RefObject, useEffect, useState } from 'react'
import { pictureNow, pictures } from '../live/pictures'

const STALE_MS = 2000
const CHECK_MS = 250
/** The same bytes for this long are worth a word, ms. */
const UNCHANGED_MS = 5000

export interface Freshness {
  /** `none`: no picture came yet. `old`: no frame comes any more. `same`: frames come and look the same. */
  is: 'none' | 'live' | 'same' | 'old'
  /** For how long, whole seconds; of `live` and `none` 0. */
  seconds: number
  /** Why no picture comes; null if that is not known. */
  trouble: string | null
}

const NONE: Freshness = { is: 'none', seconds: 0, trouble: null }

export function freshness(atMs: number | null, sameMs: number, nowMs: number): Omit<Freshness, 'trouble'> {
  if (atMs === null) return { is: 'none', seconds: 0 }
  const age = nowMs - atMs
  if (age >= STALE_MS) return { is: 'old', seconds: Math.floor(age / 1000) }
  return sameMs >= UNCHANGED_MS
    ? { is: 'same', seconds: Math.floor((sameMs + age) / 1000) }
    : { is: 'live', seconds: 0 }
}

/** @param shown false: it is not looked at now, so nothing is fetched */
export function usePicture(
  canvas: RefObject<HTMLCanvasElement | null>,
  camera: string,
  perSec: number,
  shown = true,
): Freshness {
  const [fresh, setFresh] = useState(NONE)
  useEffect(() => {
    const element = canvas.current
    return element ? pictures.hand(element) : undefined
  }, [canvas])
  useEffect(() => {
    const element = canvas.current
    if (!element || !shown) return
    let [atMs, sameMs] = [null as number | null, 0]
    const look = () =>
      setFresh((before) => {
        const now = freshness(atMs, sameMs, pictureNow())
        return now.is === before.is && now.seconds === before.seconds ? before : { ...before, ...now }
      })
    setFresh(NONE)
    const stop = pictures.watch(element, camera, {
      perSec,
      seen: (sighting) => {
        atMs = sighting.atMs
        sameMs = sighting.sameMs
        look()
      },
      trouble: (trouble) => setFresh((before) => ({ ...before, trouble })),
    })
    const timer = setInterval(look, CHECK_MS)
    return () => {
      stop()
      clearInterval(timer)
    }
  }, [canvas, camera, perSec, shown])
  return fresh
}
