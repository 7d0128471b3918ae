/** After an arrival: is what the camera shows what was stored? */
import { useEffect, useState } from 'react'
import type { Finding } from '../../core/image/register'
import { isHere, type Tolerance } from '../../core/presets/pose'
import type { PresetView } from '../../server/api'
import { pictureUrl } from '../api/client'
import { live } from '../live/live'
import { pictureNow, pictures } from '../live/pictures'
import { useFactValue } from '../live/useFactValue'
import { noteTrust } from './astray'
import { compare, readyToCompare } from './compare'

/** Until the head has settled and the focus is there, ms. */
const SETTLES_MS = 1100
const TRUST_PER_SEC = 4

export interface Trusted {
  preset: PresetView
  finding: Finding
}

async function stored(pictureId: string): Promise<ImageBitmap> {
  const answer = await fetch(pictureUrl(pictureId))
  return createImageBitmap(await answer.blob())
}

/** Null while nothing was compared since the last recall. */
export function useTrust(camera: string, presets: readonly PresetView[], arrival: Tolerance): Trusted | null {
  // Only while it stands there: of a camera that has moved on, or is silent, nothing is claimed.
  const arrived = useFactValue(
    'pose',
    camera,
    (pose) => {
      const travel = live().fact('travel', camera)
      if (!pose || pose.moving || pose.held || travel?.state !== 'arrived') return null
      const there = presets.find((p) => p.id === travel.presetId)
      return there?.pose && isHere(pose, there.pose, arrival) ? there.id : null
    },
    150,
  )
  const [trusted, setTrusted] = useState<Trusted | null>(null)
  useEffect(() => {
    readyToCompare()
  }, [])
  const preset = presets.find((p) => p.id === arrived)
  const key = preset?.pictureId ? `${preset.id} ${preset.pictureId} ${preset.version}` : null
  // biome-ignore lint/correctness/useExhaustiveDependencies: the key says what is to be compared
  useEffect(() => {
    setTrusted(null)
    if (!key || !preset?.pictureId) return
    const { pictureId } = preset
    const fromMs = pictureNow() + SETTLES_MS
    let over = false
    const judge = async (after: ImageBitmap) => {
      try {
        const finding = await compare(await stored(pictureId), after)
        if (over) return
        setTrusted({ preset, finding })
        noteTrust(preset, finding.kind === 'shifted')
      } catch {
        // The stored picture cannot be had now: nothing is claimed.
      }
    }
    // One that was taken since: what stands on the screen may be older than the arrival.
    const stop = pictures.copy(camera, fromMs, TRUST_PER_SEC, (bitmap) => void judge(bitmap))
    return () => {
      over = true
      stop()
    }
  }, [key])
  return trusted
}
