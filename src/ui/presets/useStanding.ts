/** What a tile may say of its preset; told only when it changes, however often the pose comes. */
import { useMemo } from 'react'
import { DEFAULT_HEAD, headProfile, isHeadProfile } from '../../core/heads/registry'
import type { LivePose } from '../../core/presets/pose'
import { type Standing, standingOf, type Travel } from '../../core/presets/standing'
import type { PresetView } from '../../server/api'
import { live } from '../live/live'
import { useLiveValue } from '../live/useLiveValue'

/** The time left is told in tenths of a second, so no more often than that. */
const EVERY_MS = 90

export function useStanding(preset: PresetView, head: string): Standing {
  const range = useMemo(() => {
    const curve = headProfile(isHeadProfile(head) ? head : DEFAULT_HEAD).lens.zoomCurve
    return curve[curve.length - 1]![0] - curve[0]![0]
  }, [head])
  const standing = (): Standing => {
    const pose = (live().get(`pose/${preset.cameraId}`) ?? null) as LivePose | null
    const travel = (live().get(`travel/${preset.cameraId}`) ?? null) as Travel | null
    return standingOf(preset, pose, travel, range)
  }
  useLiveValue(`pose/${preset.cameraId}`, standing, EVERY_MS)
  useLiveValue(`travel/${preset.cameraId}`, standing, EVERY_MS)
  return standing()
}
