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
  /** By how much a live one lags behind the room, tenths of a second; 0: by less than anybody notices. */
  late: number
  /** Why no picture comes; null if that is not known. */
  trouble: string | null
}

const NONE: Freshness = { is: 'none', seconds: 0, late: 0, trouble: null }
/** From here on a hand notices, ms. */
const NOTICED_MS = 200
/** The worst of about this long is told, so that the figure stands still, ms. */
const LATE_FOR_MS = 1500

export function freshness(
  atMs: number | null,
  sameMs: number,
  nowMs: number,
): Omit<Freshness, 'trouble' | 'late'> {
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
    let [lag, lagAtMs] = [0, 0]
    const look = () =>
      setFresh((before) => {
        const now = freshness(atMs, sameMs, pictureNow())
        const late = now.is === 'live' && lag >= NOTICED_MS ? Math.round(lag / 100) / 10 : 0
        return now.is === before.is && now.seconds === before.seconds && late === before.late
          ? before
          : { ...before, ...now, late }
      })
    setFresh(NONE)
    const stop = pictures.watch(element, camera, {
      perSec,
      seen: (sighting) => {
        atMs = sighting.atMs
        sameMs = sighting.sameMs
        const nowMs = pictureNow()
        if (nowMs - atMs >= lag || nowMs - lagAtMs > LATE_FOR_MS) [lag, lagAtMs] = [nowMs - atMs, nowMs]
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
