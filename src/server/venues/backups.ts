/** Copies of whole venues: every day, and before what cannot be taken back; kept by count, and put back after a look. */
import { copyFile, mkdir, readdir, rename, rm, stat } from 'node:fs/promises'
import { join } from 'node:path'
import {
  type BackupView,
  type BackupWhy,
  backupFile,
  readBackupName,
  tooMany,
} from '../../core/formats/backups'
import { log } from '../log'
import type { ImportPlan } from './importPlan'
import type { Imports } from './imports'

const DAY_MS = 86_400_000
const LOOK_EVERY_MS = 3_600_000
/** The database and the cameras go first after a start, ms. */
const FIRST_MS = 20_000
export const KEPT = 14

export interface BackupsDeps {
  folder: string
  /** Writes a venue into this file. @returns false if there is no such venue */
  write(venueId: string, path: string): Promise<boolean>
  imports: Pick<Imports, 'lookAtFile'>
  open(): { id: string; name: string } | null
  nowMs(): number
}

export class Backups {
  private readonly timers: ReturnType<typeof setTimeout>[] = []
  private busy: Promise<unknown> = Promise.resolve()
  private closed = false

  constructor(private readonly deps: BackupsDeps) {}

  /** From now on every day. */
  start(): void {
    const look = () =>
      void this.daily().catch((error) => {
        // A server that ends takes its jobs along; the next start makes up for it.
        if (!this.closed) log.error({ err: error }, 'the daily backup could not be made')
      })
    this.timers.push(setTimeout(look, FIRST_MS), setInterval(look, LOOK_EVERY_MS))
  }

  close(): void {
    this.closed = true
    for (const timer of this.timers) clearTimeout(timer)
  }

  /** The newest first. */
  async list(): Promise<BackupView[]> {
    const files = await this.files()
    const all = await Promise.all(
      files.map(async (file) => {
        const name = readBackupName(file)!
        const found = await stat(join(this.deps.folder, file)).catch(() => null)
        const { venue, atMs, why } = name
        return found ? { file, venue, at: new Date(atMs).toISOString(), why, bytes: found.size } : null
      }),
    )
    return all.filter((one) => one !== null).sort((a, b) => b.at.localeCompare(a.at))
  }

  /** One after the other: two at once would only slow each other. @returns the file; null if there is no such venue */
  make(venue: { id: string; name: string }, why: BackupWhy): Promise<string | null> {
    const made = this.busy.then(() => this.write(venue, why))
    this.busy = made.catch(() => {})
    return made
  }

  /** One of the open venue, if the last is a day old. */
  async daily(): Promise<void> {
    const venue = this.deps.open()
    if (!venue) return
    const last = (await this.files())
      .map(readBackupName)
      .filter((name) => name?.id === venue.id.slice(0, 8) && name.why === 'daily')
      .reduce((newest, name) => Math.max(newest, name!.atMs), 0)
    if (this.deps.nowMs() - last >= DAY_MS) await this.make(venue, 'daily')
  }

  /** What putting it back would change. @returns null if there is no such backup. @throws FileRefused */
  async look(file: string): Promise<{ id: string; plan: ImportPlan } | null> {
    if (!(await this.files()).includes(file)) return null
    // A copy: what was looked at is deleted after use.
    return this.deps.imports.lookAtFile((path) => copyFile(join(this.deps.folder, file), path))
  }

  private async write(venue: { id: string; name: string }, why: BackupWhy): Promise<string | null> {
    const { folder, nowMs } = this.deps
    await mkdir(folder, { recursive: true, mode: 0o700 })
    const file = backupFile(venue, nowMs(), why)
    // Written beside and then put in place: half a backup must not look like one.
    const path = join(folder, `${file}.part`)
    try {
      if (!(await this.deps.write(venue.id, path))) return null
      await rename(path, join(folder, file))
    } finally {
      await rm(path, { force: true })
    }
    for (const old of tooMany(await this.files(), KEPT)) await rm(join(folder, old), { force: true })
    return file
  }

  private async files(): Promise<string[]> {
    const all = await readdir(this.deps.folder).catch((error: NodeJS.ErrnoException) => {
      if (error.code === 'ENOENT') return []
      throw error
    })
    return all.filter((file) => readBackupName(file) !== null)
  }
}
