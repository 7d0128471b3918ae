/** A copy of the database before its tables change with a new version, and a copy put back. */
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { claimDataFolder } from './dataFolder.mjs'
import { postgresPrograms } from './debian.mjs'
import { startPostgres } from './postgres.mjs'
import { run, tail } from './run.mjs'
import { Fault, step } from './say.mjs'

/** How many of the automatic ones are kept. */
const KEPT = 10
const NAME = /^before-update-.*\.dump$/

/** The password goes through the environment: anybody on this computer can read arguments. */
function program(url) {
  const { hostname, port, username, password, pathname } = new URL(url)
  const env = { ...process.env, PGPASSWORD: decodeURIComponent(password), PGCONNECT_TIMEOUT: '5' }
  const where = ['-h', hostname, '-p', port, '-U', username]
  const name = pathname.slice(1)
  return (tool, args) => run(`${postgresPrograms()}/${tool}`, [...where, '-d', name, ...args], { env })
}

async function migrationsDone(tool) {
  const table = await tool('psql', ['-tAc', "select to_regclass('drizzle.__drizzle_migrations') is not null"])
  if (table.output.trim() !== 't') return 0
  const count = await tool('psql', ['-tAc', 'select count(*) from drizzle.__drizzle_migrations'])
  return Number(count.output.trim()) || 0
}

async function backUp(tool, data) {
  const folder = join(data, 'backups')
  mkdirSync(folder, { recursive: true })
  const file = join(folder, `before-update-${new Date().toISOString().replace(/[:.]/g, '-')}.dump`)
  const before = process.umask(0o077)
  const { code, output } = await tool('pg_dump', ['-Fc', '-f', file]).finally(() => process.umask(before))
  if (code !== 0)
    throw new Fault(`The backup before the update failed, so nothing was changed:\n${tail(output)}`)
  const old = readdirSync(folder)
    .filter((name) => NAME.test(name))
    .sort()
    .slice(0, -KEPT)
  for (const name of old) rmSync(join(folder, name))
  return file
}

/** Where a file that is named on the command line lies. */
const asked = (file) => resolve(process.env.INIT_CWD ?? process.cwd(), file)

/**
 * Keeps all of the database in a file. The desk must not run: it would change meanwhile.
 * @returns the file's path
 */
export async function backUpTo(data, file) {
  const path = asked(file)
  if (existsSync(path)) throw new Fault(`${path} is there already. Choose another name.`)
  const foreign = process.env.DATABASE_URL
  const release = claimDataFolder(data, 'a backup that is being made')
  const database = foreign ? null : await startPostgres(data)
  try {
    const tool = program(foreign ?? database.url)
    const before = process.umask(0o077)
    const { code, output } = await tool('pg_dump', ['-Fc', '-f', path]).finally(() => process.umask(before))
    if (code !== 0) {
      rmSync(path, { force: true })
      throw new Fault(`The backup could not be made:\n${tail(output)}`)
    }
    return path
  } finally {
    await database?.stop()
    release()
  }
}

async function putBack(tool, file) {
  const path = asked(file)
  if (!existsSync(path) || !statSync(path).isFile()) throw new Fault(`There is no backup ${path}.`)
  // All of it or nothing, in one transaction. What a newer version has made beside it must not stay.
  const script = `${path}.sql.${process.pid}`
  writeFileSync(script, '', { mode: 0o600 })
  try {
    const read = await run(`${postgresPrograms()}/pg_restore`, ['--no-owner', '-f', script, path])
    if (read.code !== 0) throw new Fault(`${path} is no backup that can be read:\n${tail(read.output)}`)
    const empty =
      'drop schema if exists drizzle cascade; drop schema if exists public cascade; create schema public'
    const { code, output } = await tool('psql', [
      '-q',
      '-1',
      '-v',
      'ON_ERROR_STOP=1',
      '-c',
      empty,
      '-f',
      script,
    ])
    if (code !== 0)
      throw new Fault(`The backup ${path} could not be put back, so nothing was changed:\n${tail(output)}`)
  } finally {
    rmSync(script, { force: true })
  }
}

/** @param restore a backup to put back first; undefined for none */
export async function backUpBeforeUpdate(root, data, url, restore) {
  const tool = program(url)
  const journal = JSON.parse(
    readFileSync(join(root, 'src/server/store/migrations/meta/_journal.json'), 'utf8'),
  )
  if (restore) {
    if ((await migrationsDone(tool)) > 0) await step('Keeping what is there', () => backUp(tool, data))
    await step('Putting the backup back', () => putBack(tool, restore))
  }
  const done = await migrationsDone(tool)
  if (done > 0 && done < journal.entries.length)
    await step('Backing up before the update', () => backUp(tool, data))
}
