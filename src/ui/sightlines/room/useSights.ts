/** All placed cameras as their operator sees them. */
import { useMemo } from 'react'
import { opened } from '../../../core/heads/profile'
import { profileOf } from '../../../core/heads/registry'
import { createLens } from '../../../core/optics/lens'
import { type Sight, sightOf } from '../../../core/optics/sight'
import type { PlacedCamera, RoomSolved } from '../../../core/room/room'
import { NO_LIMITS } from '../../../core/stick/speeds'
import type { DeskView } from '../../../server/api'

export interface SightOfCamera {
  placed: PlacedCamera
  sight: Sight
}

export function useSights(desk: DeskView, solved: RoomSolved | null): SightOfCamera[] {
  const { cameras, headProfiles } = desk
  return useMemo(
    () =>
      (solved?.cameras ?? []).flatMap((placed) => {
        const view = cameras.find(({ id }) => id === placed.cameraId)
        if (!view) return []
        const found = profileOf(view.headProfile, headProfiles)
        const profile = view.headConfirmed ? found : opened(found)
        const lens = createLens(profile.lens)
        const { mount, limits } = view
        return [
          { placed, sight: sightOf({ profile, lens, mount, limits: limits ?? NO_LIMITS, digital: false }) },
        ]
      }),
    [cameras, headProfiles, solved],
  )
}
