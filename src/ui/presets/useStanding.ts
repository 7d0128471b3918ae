/** What a tile may say of its preset; told only when it changes, however often the pose comes. */
import { useMemo } from 'react'
import { DEFAULT_HEAD, headProfile, isHeadProfile } from '../../core/heads/registry'
import { type Standing, standingOf } from '../../core/presets/standing'
import type { PresetView } from '../../server/api'
import { live } from '../live/live'
import { useFactValue } from '../live/useFactValue'

/** The time left is told in tenths of a second, so no more often than that. */
const EVERY_MS = 90

export function useStanding(preset: PresetView, head: string): Standing {
  const range = useMemo(() => {
    const curve = headProfile(isHeadProfile(head) ? head : DEFAULT_HEAD).lens.zoomCurve
    return curve[curve.length - 1]![0] - curve[0]![0]
  }, [head])
  const standing = (): Standing => {
    const pose = live().fact('pose', preset.cameraId)
    const travel = live().fact('travel', preset.cameraId)
    return standingOf(preset, pose, travel, range)
  }
  useFactValue('pose', preset.cameraId, standing, EVERY_MS)
  useFactValue('travel', preset.cameraId, standing, EVERY_MS)
  return standing()
}
