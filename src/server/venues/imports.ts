/** Files that were looked at and wait for a yes. */
import { randomUUID } from 'node:crypto'
import { mkdir, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { camerasFromCsv } from '../../core/formats/cameraCsv'
import { FileRefused } from '../../core/formats/venueFile'
import type { Database } from '../store/database'
import { applyImport } from './applyImport'
import { exportVenue } from './exportVenue'
import { type ImportMode, type ImportPlan, planImport } from './importPlan'
import { readVenueZip, type VenueBundle, writeVenueZip } from './zip'

const MOST_WAITING = 4

export class Imports {
  private readonly waiting = new Map<string, VenueBundle>()

  constructor(
    private readonly db: Database,
    private readonly backupFolder: string,
    private readonly schema: string,
  ) {}

  /** @throws FileRefused */
  async lookAtZip(bytes: Buffer): Promise<{ id: string; plan: ImportPlan }> {
    const bundle = await readVenueZip(bytes)
    return this.keep(bundle)
  }

  /** A list of cameras for a venue: those are told apart by their numbers. @throws FileRefused */
  async lookAtCsv(text: string, venueId: string): Promise<{ id: string; plan: ImportPlan }> {
    const listed = camerasFromCsv(text)
    const now = await exportVenue(this.db, venueId)
    if (!now) throw new FileRefused('This venue is not there any more.')
    const known = new Map(now.file.cameras.map((c) => [c.number, c]))
    const cameras = listed.map(({ settings, keepPicture }, i) => {
      const before = known.get(settings.number)
      const picture = keepPicture ? (before?.picture ?? { kind: 'none' as const }) : settings.picture
      const limits = before?.limits ?? null
      return {
        ...settings,
        picture,
        limits,
        id: before?.id ?? randomUUID(),
        order: before?.order ?? 1000 + i,
      }
    })
    const ids = new Set(cameras.map((c) => c.id))
    // A list says nothing of presets: those of its cameras stay.
    const events = now.file.events.map((e) => ({
      ...e,
      presets: e.presets.filter((p) => ids.has(p.cameraId)),
    }))
    return this.keep({ file: { ...now.file, cameras, events }, pictures: now.pictures })
  }

  /**
   * @returns the venue, and where its former state was put, or null where there was none; undefined
   *   where nothing waits under this id
   */
  async apply(id: string, mode: ImportMode): Promise<{ venueId: string; backup: string | null } | undefined> {
    const bundle = this.waiting.get(id)
    if (!bundle) return undefined
    this.waiting.delete(id)
    const before = await exportVenue(this.db, bundle.file.venue.id)
    const backup = before ? await this.backUp(before) : null
    return { venueId: await applyImport(this.db, bundle, mode), backup }
  }

  drop(id: string): void {
    this.waiting.delete(id)
  }

  private async keep(bundle: VenueBundle): Promise<{ id: string; plan: ImportPlan }> {
    const now = await exportVenue(this.db, bundle.file.venue.id)
    const id = randomUUID()
    this.waiting.set(id, bundle)
    while (this.waiting.size > MOST_WAITING) this.waiting.delete(this.waiting.keys().next().value!)
    return { id, plan: planImport(now?.file ?? null, bundle.file) }
  }

  private async backUp(bundle: VenueBundle): Promise<string> {
    await mkdir(this.backupFolder, { recursive: true })
    const name = bundle.file.venue.name.replace(/[^\p{L}\p{N}]+/gu, '-').slice(0, 40)
    const path = join(this.backupFolder, `${name}-${new Date().toISOString().replace(/[:.]/g, '-')}.zip`)
    await writeFile(path, await writeVenueZip(bundle, this.schema), { mode: 0o600 })
    return path
  }
}
