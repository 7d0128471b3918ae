import fc from 'fast-check'
import { BACKUP_WHY_NAMES, backupFile, readBackupName, tooMany } from './backups'

const ID = '0a1b2c3d-0000-4000-8000-000000000001'

test('whatever a venue is called, its backups are told by their names, and stay within their folder', () => {
  const why = fc.constantFrom(...BACKUP_WHY_NAMES)
  const at = fc.integer({ min: 0, max: Date.parse('2099-01-01') })
  fc.assert(
    fc.property(fc.string({ unit: 'grapheme', maxLength: 60 }), at, why, (name, atMs, reason) => {
      const file = backupFile({ id: ID, name }, atMs, reason)
      expect(file).not.toMatch(/[/\\]|^\./)
      expect(readBackupName(file)).toMatchObject({ id: '0a1b2c3d', atMs, why: reason })
    }),
  )
  for (const other of ['notes.zip', 'before-update-2026.dump', '../x_0a1b2c3d_20261128T180000000Z_daily', ''])
    expect(readBackupName(other)).toBeNull()
})

test('of each venue and each reason the newest are kept', () => {
  const of = (id: string, day: number, why: (typeof BACKUP_WHY_NAMES)[number]) =>
    backupFile({ id, name: 'Barn' }, Date.UTC(2026, 10, day), why)
  const other = `9${ID.slice(1)}`
  const files = [1, 2, 3, 4].map((day) => of(ID, day, 'daily'))
  const all = [...files, of(ID, 1, 'by-hand'), of(other, 1, 'daily'), 'notes.zip']
  expect(tooMany(all, 2).sort()).toEqual([files[0], files[1]])
  expect(tooMany(all, 5)).toEqual([])
})
