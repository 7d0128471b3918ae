/** Backups in a folder of their own: daily, before what cannot be taken back, kept by count, half ones never seen. */
import { mkdtemp, readdir, readFile, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Backups, KEPT } from './backups'

const BARN = { id: '0a1b2c3d-0000-4000-8000-000000000001', name: 'Osier Barn' }
const DAY_MS = 86_400_000

async function setUp() {
  const folder = await mkdtemp(join(tmpdir(), 'heron-backups-'))
  const world = { ms: Date.UTC(2026, 10, 28, 18), fails: false, open: BARN as typeof BARN | null, looked: '' }
  const backups = new Backups({
    folder,
    async write(venue, path) {
      await writeFile(path, `half of ${venue}`)
      if (world.fails) throw new Error('the disk is full')
      await writeFile(path, `all of ${venue}`)
      return venue === BARN.id
    },
    imports: {
      async lookAtFile(fetch) {
        const path = join(folder, 'copy')
        await fetch(path)
        world.looked = await readFile(path, 'utf8')
        return { id: 'looked', plan: {} as never }
      },
    },
    open: () => world.open,
    nowMs: () => world.ms,
  })
  return { folder, world, backups }
}

test('one a day of the open venue, and no more', async () => {
  const { world, backups } = await setUp()
  for (let hour = 0; hour < 50; hour++) {
    await backups.daily()
    world.ms += 3_600_000
  }
  expect((await backups.list()).map(({ why, venue }) => [why, venue])).toEqual(
    Array(3).fill(['daily', 'Osier Barn']),
  )
  world.open = null
  world.ms += 5 * DAY_MS
  await backups.daily()
  expect(await backups.list()).toHaveLength(3)
})

test('the oldest go, of each reason by itself', async () => {
  const { world, backups } = await setUp()
  await backups.make(BARN, 'before-removal')
  for (let day = 0; day < KEPT + 6; day++) {
    world.ms += DAY_MS
    await backups.daily()
  }
  const all = await backups.list()
  expect(all.filter(({ why }) => why === 'daily')).toHaveLength(KEPT)
  expect(all.filter(({ why }) => why === 'before-removal')).toHaveLength(1)
  expect(Date.parse(all[0]!.at)).toBe(world.ms)
})

test('one that fails leaves nothing that looks like a backup, and the next is made all the same', async () => {
  const { folder, world, backups } = await setUp()
  world.fails = true
  await expect(backups.make(BARN, 'by-hand')).rejects.toThrow('disk')
  expect(await readdir(folder)).toEqual([])
  world.fails = false
  expect(await backups.make(BARN, 'by-hand')).toMatch(/by-hand\.zip$/)
  expect(await backups.make({ ...BARN, id: 'gone' }, 'by-hand')).toBeNull()
  expect(await backups.list()).toHaveLength(1)
})

test('only what is in the list is looked at, and it stays', async () => {
  const { folder, world, backups } = await setUp()
  const file = (await backups.make(BARN, 'by-hand'))!
  await writeFile(join(folder, 'secret'), 'password')
  for (const other of ['secret', '../secret', '/etc/passwd', `../${folder.split('/').at(-1)}/${file}`])
    expect(await backups.look(other)).toBeNull()
  expect(await backups.look(file)).toMatchObject({ id: 'looked' })
  expect([world.looked, (await backups.list()).length]).toEqual([`all of ${BARN.id}`, 1])
})
