/** Is a camera ready to be cut to: still, in focus, and showing what was stored? */
import { useMemo } from 'react'
import { arrivalOf } from '../../core/heads/profile'
import type { CameraView, PresetView } from '../../server/api'
import { useFactValue } from '../live/useFactValue'
import { useHead } from '../live/useHead'
import { useTrust } from '../presets/useTrust'

/** A focus motor stops within this of where it was told to go, units. */
const FOCUS_NEAR = 64
const NONE: readonly PresetView[] = []

export interface Ready {
  ready: boolean
  /** What is so, or what is missing. */
  words: string
}

export function useReady(camera: CameraView, preset: PresetView | null): Ready {
  const profile = useHead(camera)
  const arrival = useMemo(() => arrivalOf(profile), [profile])
  const mine = useMemo(() => (preset ? [preset] : NONE), [preset])
  const trusted = useTrust(camera.id, mine, arrival)
  const is = useFactValue('pose', camera.id, (pose) => {
    if (!pose || pose.late) return null
    const wanted = preset?.pose
    const byHand = pose.focusAuto === false && wanted?.focusAuto === false && wanted.focus !== null
    const focused = !byHand || pose.focus === null || Math.abs(pose.focus - wanted.focus!) <= FOCUS_NEAR
    return { still: !pose.moving, focused }
  })
  const travel = useFactValue('travel', camera.id, (t) =>
    t?.presetId === preset?.id ? (t?.state ?? null) : null,
  )
  if (!is) return { ready: false, words: 'not known' }
  if (!is.still || travel === 'travelling') return { ready: false, words: 'moving' }
  if (preset && travel === 'failed') return { ready: false, words: 'not reached' }
  if (!is.focused) return { ready: false, words: 'still, focusing' }
  if (!preset) return { ready: true, words: 'still' }
  const finding = trusted?.finding.kind ?? null
  // A camera without pictures has nothing to compare: then what is known of the head has to do.
  if (preset.pictureId === null || camera.picture.kind === 'none')
    return { ready: true, words: 'still, in focus' }
  if (finding === 'matches') return { ready: true, words: 'still, in focus, as stored' }
  if (finding === null) return { ready: false, words: 'still, in focus, being compared' }
  return { ready: false, words: 'still, but not as it was stored' }
}
