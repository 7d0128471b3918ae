/** Fails where the schema was changed without a new migration. */
import { cpSync, mkdtempSync, readdirSync, rmSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { run } from './lib/run.mjs'

const root = dirname(dirname(fileURLToPath(import.meta.url)))
const kept = join(root, 'src/server/store/migrations')
const copy = mkdtempSync(join(root, '.data-migrations-'))
try {
  cpSync(kept, copy, { recursive: true })
  const out = `./${copy.slice(root.length + 1)}`
  const args = [
    'node_modules/drizzle-kit/bin.cjs',
    'generate',
    '--dialect=postgresql',
    '--schema=./src/server/store/schema.ts',
    `--out=${out}`,
  ]
  const { code, output } = await run(process.execPath, args, { cwd: root })
  const fresh = readdirSync(copy).filter((name) => name.endsWith('.sql') && !readdirSync(kept).includes(name))
  if (code !== 0 || fresh.length > 0) {
    console.error(`The schema has changes without a migration. Run "npm run migrations".\n${output}`)
    process.exitCode = 1
  }
} finally {
  rmSync(copy, { recursive: true, force: true })
}
