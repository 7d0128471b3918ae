/** Uploaded files that wait for confirmation, in the data folder and not in memory. */
import { randomUUID } from 'node:crypto'
import { createWriteStream } from 'node:fs'
import { mkdir, rm } from 'node:fs/promises'
import { join } from 'node:path'
import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import type { ReadableStream } from 'node:stream/web'
import { backupFile } from '../../core/formats/backups'
import type { Jobs } from '../jobs/jobs'
import type { Incoming } from '../jobs/venueFiles'
import type { ImportMode, ImportPlan } from './importPlan'

const MOST_WAITING = 4

export interface ImportsOptions {
  jobs: Jobs
  databaseUrl: string
  dataFolder: string
  /** The JSON Schema that goes into each file. */
  schema: string
}

export class Imports {
  private readonly waiting = new Map<string, { incoming: Incoming; name: string; venueId: string }>()
  private readonly folder: string

  constructor(private readonly options: ImportsOptions) {
    this.folder = join(options.dataFolder, 'incoming')
    // What an earlier server left behind.
    void rm(this.folder, { recursive: true, force: true }).catch(() => {})
  }

  /** Takes the file as it comes, without holding it in memory. @throws FileRefused */
  async lookAtZip(body: ReadableStream<Uint8Array>): Promise<{ id: string; plan: ImportPlan }> {
    return this.lookAtFile((path) =>
      pipeline(Readable.fromWeb(body), createWriteStream(path, { mode: 0o600 })),
    )
  }

  /** Looks at a file that is put into place by `fetch`. @throws FileRefused */
  async lookAtFile(fetch: (path: string) => Promise<void>): Promise<{ id: string; plan: ImportPlan }> {
    await mkdir(this.folder, { recursive: true })
    const path = join(this.folder, `${randomUUID()}.zip`)
    try {
      await fetch(path)
      return await this.look({ kind: 'zip', path })
    } catch (error) {
      await rm(path, { force: true })
      throw error
    }
  }

  /** A list of cameras for a venue: those are told apart by their numbers. @throws FileRefused */
  lookAtCsv(text: string, venueId: string): Promise<{ id: string; plan: ImportPlan }> {
    return this.look({ kind: 'csv', text, venueId })
  }

  /**
   * @returns the venue, and where its former state was put, or null if there was none; undefined
   *   where nothing waits under this id
   */
  async apply(id: string, mode: ImportMode): Promise<{ venueId: string; backup: string | null } | undefined> {
    const found = this.waiting.get(id)
    if (!found) return undefined
    this.waiting.delete(id)
    const { jobs, databaseUrl, dataFolder, schema } = this.options
    const file = backupFile({ id: found.venueId, name: found.name }, Date.now(), 'before-import')
    const backupPath = join(dataFolder, 'backups', file)
    const job = { databaseUrl, incoming: found.incoming, mode, dataFolder, schema, backupPath }
    try {
      return await jobs.run('applyVenue', job)
    } finally {
      await this.forget(found.incoming)
    }
  }

  drop(id: string): void {
    const found = this.waiting.get(id)
    this.waiting.delete(id)
    if (found) void this.forget(found.incoming)
  }

  /** Writes a venue into a file that is to be deleted after use. Null if there is no such venue. */
  async exported(venueId: string): Promise<{ path: string; name: string } | null> {
    const { jobs, databaseUrl, schema } = this.options
    const path = join(this.folder, `${randomUUID()}.out.zip`)
    const name = await jobs.run('exportVenueFile', { databaseUrl, venueId, schema, path })
    return name === null ? null : { path, name }
  }

  private async look(incoming: Incoming): Promise<{ id: string; plan: ImportPlan }> {
    const { jobs, databaseUrl } = this.options
    const plan = await jobs.run('lookAtVenue', { databaseUrl, incoming })
    const id = randomUUID()
    this.waiting.set(id, { incoming, name: plan.name, venueId: plan.venueId })
    while (this.waiting.size > MOST_WAITING) this.drop(this.waiting.keys().next().value!)
    return { id, plan }
  }

  private async forget(incoming: Incoming): Promise<void> {
    if (incoming.kind === 'zip') await rm(incoming.path, { force: true }).catch(() => {})
  }
}
