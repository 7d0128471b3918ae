/** After an arrival: is what the camera shows what was stored? */
import { type RefObject, useEffect, useState } from 'react'
import type { Finding } from '../../core/image/register'
import { isHere } from '../../core/presets/pose'
import type { Travel } from '../../core/presets/standing'
import type { PresetView } from '../../server/api'
import { pictureUrl } from '../api/client'
import { live } from '../live/live'
import { useLiveValue } from '../live/useLiveValue'

/** Until the head has settled and the focus is there, ms. */
const SETTLES_MS = 1100

export interface Trusted {
  preset: PresetView
  finding: Finding
}

let worker: Worker | null = null

const theWorker = (): Worker => {
  worker ??= new Worker(new URL('../workers/trust.ts', window.location.href))
  return worker
}

async function compare(pictureId: string, canvas: HTMLCanvasElement): Promise<Finding> {
  const answer = await fetch(pictureUrl(pictureId))
  const [before, after] = await Promise.all([
    createImageBitmap(await answer.blob()),
    createImageBitmap(canvas),
  ])
  const mine = theWorker()
  return new Promise((resolve) => {
    mine.onmessage = ({ data }: MessageEvent<{ finding: Finding; ms: number }>) => {
      performance.measure('trust check', { end: performance.now(), duration: data.ms })
      resolve(data.finding)
    }
    mine.postMessage({ before, after }, [before, after])
  })
}

/** Null as long as nothing was compared since the last recall. */
export function useTrust(
  camera: string,
  presets: readonly PresetView[],
  zoomRange: number,
  canvasRef: RefObject<HTMLCanvasElement | null>,
): Trusted | null {
  // Only while it stands there: of a camera that has moved on, or is silent, nothing is claimed.
  const arrived = useLiveValue(
    `pose/${camera}`,
    (pose) => {
      const travel = live().get(`travel/${camera}`) as Travel | null | undefined
      if (!pose || pose.moving || travel?.state !== 'arrived') return null
      const there = presets.find((p) => p.id === travel.presetId)
      return there?.pose && isHere(pose, there.pose, zoomRange) ? there.id : null
    },
    150,
  )
  const [trusted, setTrusted] = useState<Trusted | null>(null)
  useEffect(() => {
    // So that it is ready before the first arrival.
    theWorker()
  }, [])
  const preset = presets.find((p) => p.id === arrived)
  const key = preset?.pictureId ? `${preset.id} ${preset.pictureId} ${preset.version}` : null
  // biome-ignore lint/correctness/useExhaustiveDependencies: the key says what is to be compared
  useEffect(() => {
    setTrusted(null)
    if (!key || !preset?.pictureId) return
    let over = false
    const timer = setTimeout(async () => {
      const canvas = canvasRef.current
      if (!canvas?.width) return
      try {
        const finding = await compare(preset.pictureId!, canvas)
        if (!over) setTrusted({ preset, finding })
      } catch {
        // The stored picture cannot be had now: nothing is claimed.
      }
    }, SETTLES_MS)
    return () => {
      over = true
      clearTimeout(timer)
    }
  }, [key])
  return trusted
}
