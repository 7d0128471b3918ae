/** The open event's presets as a list for a file, and such a list taken in: all of it, or nothing. */
import type { ListedPreset } from '../../core/formats/presetList'
import { FileRefused } from '../../core/formats/venueFile'
import { profileOf } from '../../core/heads/registry'
import { createLens, type Lens } from '../../core/optics/lens'
import { aimed } from '../../core/presets/pose'
import type { DeskView } from '../store/catalogue'
import type { Database } from '../store/database'
import { addListed, changePreset, type ListedNew } from '../store/presets'
import { amendPreset } from '../store/versions'

const lensOf = (head: string, { headProfiles }: Pick<DeskView, 'headProfiles'>): Lens =>
  createLens(profileOf(head, headProfiles).lens)
const round = (x: number, digits: number) => Math.round(x * 10 ** digits) / 10 ** digits

export function listPresets({ cameras, presets, headProfiles }: DeskView): ListedPreset[] {
  return cameras.flatMap((camera) => {
    const lens = lensOf(camera.headProfile, { headProfiles })
    return presets.flatMap(({ cameraId, number, name, section, mark, pose: stored }) => {
      const pose = aimed(stored)
      // Without a pose there is nothing to list: such a one is in the venue file.
      return cameraId === camera.id && pose
        ? [
            {
              camera: camera.number,
              number,
              name,
              section,
              mark,
              panDeg: round(pose.panDeg, 4),
              tiltDeg: round(pose.tiltDeg, 4),
              magnification: round(lens.magnification(pose.zoom), 5),
              focusAuto: pose.focusAuto ?? true,
              focus: pose.focus,
            },
          ]
        : []
    })
  })
}

/** Presets are told apart by their camera's number and their own; a changed one keeps its former version. @throws FileRefused */
export function takePresets(
  db: Database,
  view: DeskView,
  listed: readonly ListedPreset[],
): Promise<{ added: number; changed: number }> {
  const cameras = new Map(view.cameras.map((c) => [c.number, c]))
  const unknown = listed.find((p) => !cameras.has(p.camera))
  if (unknown)
    throw new FileRefused(`There is no camera ${unknown.camera} here, to which ${unknown.name} belongs.`)
  const now = new Map(listPresets(view).map((p) => [`${p.camera} ${p.number}`, p]))
  const here = new Map(view.presets.map((p) => [`${p.cameraId} ${p.number}`, p]))
  return db.transaction(async (transaction) => {
    const tx = transaction as unknown as Database
    const counts = { added: 0, changed: 0 }
    const fresh: ListedNew[] = []
    for (const p of listed) {
      const camera = cameras.get(p.camera)!
      const before = now.get(`${p.camera} ${p.number}`)
      if (JSON.stringify(before) === JSON.stringify(p)) continue
      const zoom = lensOf(camera.headProfile, view).zoomForMagnification(p.magnification)
      const pose = {
        panDeg: p.panDeg,
        tiltDeg: p.tiltDeg,
        zoom: Math.round(zoom),
        focusAuto: p.focusAuto,
        focus: p.focus,
        encoder: null,
      }
      const known = here.get(`${camera.id} ${p.number}`)
      const { name, section, mark } = p
      if (known) {
        const same =
          before &&
          (['panDeg', 'tiltDeg', 'magnification', 'focusAuto', 'focus'] as const).every(
            (k) => before[k] === p[k],
          )
        if (!same) await amendPreset(tx, known.id, { pose })
        await changePreset(tx, known.id, { name, section, mark })
        counts.changed += 1
      } else {
        fresh.push({ cameraId: camera.id, number: p.number, name, section, mark, pose })
        counts.added += 1
      }
    }
    await addListed(tx, view.event.id, fresh)
    return counts
  })
}
