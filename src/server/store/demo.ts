/** Loads the made-up event of demo/ into an empty database. */
import { readFile } from 'node:fs/promises'
import { join } from 'node:path'
import * as v from 'valibot'
import { CameraSettings, Secrets } from '../../core/cameras/connection'
import { CommandSet } from '../../core/commands/commandSet'
import { PresetPose } from '../../core/presets/pose'
import { addCamera } from './cameras'
import type { Database } from './database'
import { addPreset, changePreset } from './presets'
import { commandSet, event, preset, venue } from './schema'
import type { SecretBox } from './secrets'

const DemoCamera = v.object({
  ...CameraSettings.entries,
  secrets: Secrets,
  presets: v.array(
    v.object({
      name: v.string(),
      section: v.optional(v.string(), ''),
      picture: v.string(),
      pose: PresetPose,
    }),
  ),
})
const DemoFile = v.object({
  venue: v.string(),
  event: v.string(),
  words: v.array(v.string()),
  commandSets: v.array(CommandSet),
  cameras: v.array(DemoCamera),
})

export interface DemoPlace {
  /** The stand-ins' network, "127.x.y". */
  net: string
  /** The serial port that they make. */
  serial: string
}

/**
 * @param folder with quiz-final.json and its pictures
 * @returns false where the database already holds a venue
 */
export async function loadDemo(
  db: Database,
  box: SecretBox,
  folder: string,
  place: DemoPlace,
): Promise<boolean> {
  const existing = await db.select({ id: venue.id }).from(venue).limit(1)
  if (existing.length > 0) return false
  const text = await readFile(join(folder, 'quiz-final.json'), 'utf8')
  const filled = text.replaceAll('@net', place.net).replaceAll('@serial', place.serial)
  const demo = v.parse(DemoFile, JSON.parse(filled))
  await db.transaction(async (tx) => {
    const inner = tx as unknown as Database
    const [v0] = await tx.insert(venue).values({ name: demo.venue, open: true }).returning()
    const [e0] = await tx
      .insert(event)
      .values({ venueId: v0!.id, name: demo.event, words: demo.words, open: true })
      .returning()
    for (const data of demo.commandSets)
      await tx.insert(commandSet).values({ venueId: v0!.id, id: data.id, data })
    for (const { secrets, presets, ...settings } of demo.cameras) {
      const cameraId = await addCamera(inner, box, v0!.id, settings, secrets)
      for (const p of presets) {
        const jpeg = await readFile(join(folder, 'pictures', p.picture))
        const shot = { pose: p.pose, light: null, jpeg, takenAt: new Date() }
        const id = await addPreset(inner, { eventId: e0!.id, cameraId, name: p.name, shot })
        if (p.section !== '') await changePreset(inner, id, { section: p.section })
      }
    }
  })
  return true
}

/** Empties everything, for a fresh demo. */
export async function clearAll(db: Database): Promise<void> {
  await db.transaction(async (tx) => {
    await tx.delete(preset)
    await tx.delete(venue)
  })
}
