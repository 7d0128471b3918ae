/** What a tile may say of its preset; told only when it changes, however often the pose comes. */
import { useMemo } from 'react'
import { arrivalOf } from '../../core/heads/profile'
import { type Standing, standingOf } from '../../core/presets/standing'
import type { CameraView, PresetView } from '../../server/api'
import { live } from '../live/live'
import { useFactValue } from '../live/useFactValue'
import { useHead } from '../live/useHead'

/** The time left is told in tenths of a second, so no more often than that. */
const EVERY_MS = 90

export function useStanding(preset: PresetView, camera: CameraView): Standing {
  const profile = useHead(camera)
  const arrival = useMemo(() => arrivalOf(profile), [profile])
  const standing = (): Standing => {
    const pose = live().fact('pose', preset.cameraId)
    const travel = live().fact('travel', preset.cameraId)
    return standingOf(preset, pose, travel, arrival)
  }
  useFactValue('pose', preset.cameraId, standing, EVERY_MS)
  useFactValue('travel', preset.cameraId, standing, EVERY_MS)
  return standing()
}
