/** Venue files read, planned, taken in and written, each with a database connection of its own. */
import { randomUUID } from 'node:crypto'
import { mkdir, readFile, writeFile } from 'node:fs/promises'
import { dirname } from 'node:path'
import { camerasFromCsv } from '../../core/formats/cameraCsv'
import { FileRefused } from '../../core/formats/venueFile'
import { type Database, withDatabase } from '../store/database'
import { SecretBox } from '../store/secrets'
import { applyImport } from '../venues/applyImport'
import { exportVenue } from '../venues/exportVenue'
import { type ImportMode, type ImportPlan, planImport } from '../venues/importPlan'
import { readVenueZip, type VenueBundle, writeVenueZip } from '../venues/zip'

/** A file that was looked at: a venue file by its path, or a list of cameras for a venue. */
export type Incoming = { kind: 'zip'; path: string } | { kind: 'csv'; text: string; venueId: string }

export interface VenueJob {
  databaseUrl: string
  incoming: Incoming
}

/** A list says nothing about presets and pictures: those of its cameras stay. */
async function fromCsv(db: Database, text: string, venueId: string): Promise<VenueBundle> {
  const listed = camerasFromCsv(text)
  const now = await exportVenue(db, venueId)
  if (!now) throw new FileRefused('This venue no longer exists.')
  const known = new Map(now.file.cameras.map((c) => [c.number, c]))
  const cameras = listed.map(({ settings, keepPicture, keepHabits }, i) => {
    const before = known.get(settings.number)
    const picture = keepPicture ? (before?.picture ?? { kind: 'none' as const }) : settings.picture
    const limits = before?.limits ?? null
    const kept = before ? Object.fromEntries(keepHabits.map((habit) => [habit, before[habit]])) : {}
    return {
      ...settings,
      ...kept,
      picture,
      limits,
      id: before?.id ?? randomUUID(),
      order: before?.order ?? 1000 + i,
    }
  })
  const ids = new Set(cameras.map((c) => c.id))
  const mine = ({ cameraId }: { cameraId: string }) => ids.has(cameraId)
  const events = now.file.events.map((e) => ({
    ...e,
    presets: e.presets.filter(mine),
    grids: e.grids.filter(mine),
    surveys: e.surveys?.filter(mine) ?? null,
  }))
  return { file: { ...now.file, cameras, events }, pictures: now.pictures }
}

const bundleOf = async (db: Database, incoming: Incoming): Promise<VenueBundle> =>
  incoming.kind === 'zip'
    ? readVenueZip(await readFile(incoming.path))
    : fromCsv(db, incoming.text, incoming.venueId)

/** What would it change? @throws FileRefused */
export function lookAtVenue({ databaseUrl, incoming }: VenueJob): Promise<ImportPlan> {
  return withDatabase(databaseUrl, async (db) => {
    const bundle = await bundleOf(db, incoming)
    const now = await exportVenue(db, bundle.file.venue.id)
    return planImport(now?.file ?? null, bundle.file)
  })
}

export interface ApplyJob extends VenueJob {
  mode: ImportMode
  dataFolder: string
  schema: string
  /** Where the venue's present state goes first. */
  backupPath: string
}

/** @returns the venue, and where its former state was put, or null if there was none. @throws FileRefused */
export function applyVenue(job: ApplyJob): Promise<{ venueId: string; backup: string | null }> {
  return withDatabase(job.databaseUrl, async (db) => {
    const box = await SecretBox.open(job.dataFolder)
    const bundle = await bundleOf(db, job.incoming)
    const before = await exportVenue(db, bundle.file.venue.id)
    if (before) await writeOut(before, job.schema, job.backupPath)
    const venueId = await applyImport(db, box, bundle, job.mode)
    return { venueId, backup: before ? job.backupPath : null }
  })
}

/** @returns the venue's name; null if there is no such venue */
export function exportVenueFile(job: {
  databaseUrl: string
  venueId: string
  schema: string
  path: string
}): Promise<string | null> {
  return withDatabase(job.databaseUrl, async (db) => {
    const bundle = await exportVenue(db, job.venueId)
    if (!bundle) return null
    await writeOut(bundle, job.schema, job.path)
    return bundle.file.venue.name
  })
}

async function writeOut(bundle: VenueBundle, schema: string, path: string): Promise<void> {
  await mkdir(dirname(path), { recursive: true })
  await writeFile(path, await writeVenueZip(bundle, schema), { mode: 0o600 })
}
