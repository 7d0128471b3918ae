/** Loads the made-up event of demo/ into an empty database. */
import { readFile } from 'node:fs/promises'
import { join } from 'node:path'
import * as v from 'valibot'
import { PresetPose } from '../../core/presets/pose'
import type { Database } from './database'
import { addPreset } from './presets'
import { camera, event, preset, venue } from './schema'

const DemoFile = v.object({
  venue: v.string(),
  event: v.string(),
  cameras: v.array(
    v.object({
      number: v.number(),
      name: v.string(),
      link: v.string(),
      /** Last number of its address in the stand-ins' network. */
      host: v.number(),
      port: v.number(),
      picturePort: v.number(),
      headProfile: v.string(),
      presets: v.array(v.object({ name: v.string(), picture: v.string(), pose: PresetPose })),
    }),
  ),
})
export type DemoFile = v.InferOutput<typeof DemoFile>

/**
 * @param folder with quiz-final.json and its pictures
 * @param net the stand-ins' network, "127.x.y"
 * @returns false where the database already holds a venue
 */
export async function loadDemo(db: Database, folder: string, net: string): Promise<boolean> {
  const existing = await db.select({ id: venue.id }).from(venue).limit(1)
  if (existing.length > 0) return false
  const demo = v.parse(DemoFile, JSON.parse(await readFile(join(folder, 'quiz-final.json'), 'utf8')))
  await db.transaction(async (tx) => {
    const [v0] = await tx.insert(venue).values({ name: demo.venue }).returning()
    const [e0] = await tx.insert(event).values({ venueId: v0!.id, name: demo.event, open: true }).returning()
    for (const c of demo.cameras) {
      const host = `${net}.${c.host}`
      const pictures = `http://${host}:${c.picturePort}`
      const [row] = await tx
        .insert(camera)
        .values({
          venueId: v0!.id,
          number: c.number,
          name: c.name,
          link: c.link,
          host,
          port: c.port,
          headProfile: c.headProfile,
          streamUrl: `${pictures}/stream.mjpg`,
          snapshotUrl: `${pictures}/snapshot.jpg`,
        })
        .returning()
      for (const p of c.presets) {
        const jpeg = await readFile(join(folder, 'pictures', p.picture))
        const shot = { pose: p.pose, jpeg, takenAt: new Date() }
        await addPreset(tx as unknown as Database, { eventId: e0!.id, cameraId: row!.id, name: p.name, shot })
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
