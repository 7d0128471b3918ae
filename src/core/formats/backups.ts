/** Backups of venues, as they are named in their folder: what for, of which venue, when. */
import * as v from 'valibot'

export const BACKUP_WHYS = {
  daily: 'Daily',
  'before-import': 'Before an import',
  'before-removal': 'Before something was removed',
  'by-hand': 'Made by hand',
} as const
export type BackupWhy = keyof typeof BACKUP_WHYS
export const BACKUP_WHY_NAMES = Object.keys(BACKUP_WHYS) as BackupWhy[]

export const BackupView = v.object({
  file: v.string(),
  venue: v.string(),
  /** ISO 8601. */
  at: v.string(),
  why: v.picklist(BACKUP_WHY_NAMES),
  bytes: v.number(),
})
export type BackupView = v.InferOutput<typeof BackupView>

const NAME = /^(?<venue>.+)_(?<id>[0-9a-f]{8})_(?<at>\d{8}T\d{9}Z)_(?<why>[a-z-]+)\.zip$/u

export interface BackupName {
  /** Its name, as far as it fits into a file's. */
  venue: string
  /** The beginning of its id: two venues may be called the same. */
  id: string
  atMs: number
  why: BackupWhy
}

export function backupFile(venue: { id: string; name: string }, atMs: number, why: BackupWhy): string {
  const name =
    venue.name
      .replace(/[^\p{L}\p{N}]+/gu, '-')
      .replace(/^-|-$/g, '')
      .slice(0, 40) || 'venue'
  const at = new Date(atMs).toISOString().replace(/[-:.]/g, '')
  return `${name}_${venue.id.slice(0, 8)}_${at}_${why}.zip`
}

/** Null where it is no backup of ours. */
export function readBackupName(file: string): BackupName | null {
  const found = NAME.exec(file)?.groups
  const why = BACKUP_WHY_NAMES.find((one) => one === found?.why)
  if (!found || !why) return null
  const [, y, m, d, h, min, s, ms] = /^(\d{4})(\d\d)(\d\d)T(\d\d)(\d\d)(\d\d)(\d{3})Z$/.exec(found.at!) ?? []
  const atMs = Date.parse(`${y}-${m}-${d}T${h}:${min}:${s}.${ms}Z`)
  return Number.isNaN(atMs) ? null : { venue: found.venue!.replace(/-/g, ' '), id: found.id!, atMs, why }
}

/** Those that are too many: of each venue and each reason the oldest beyond `keep`. */
export function tooMany(files: readonly string[], keep: number): string[] {
  const groups = new Map<string, { file: string; atMs: number }[]>()
  for (const file of files) {
    const name = readBackupName(file)
    if (!name) continue
    const key = `${name.id} ${name.why}`
    groups.set(key, [...(groups.get(key) ?? []), { file, atMs: name.atMs }])
  }
  return [...groups.values()].flatMap((all) =>
    all
      .sort((a, b) => b.atMs - a.atMs)
      .slice(keep)
      .map(({ file }) => file),
  )
}
