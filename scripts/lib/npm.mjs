/** Installs the npm packages of the lock file if it has changed. */
import { createHash } from 'node:crypto'
import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { run, tail } from './run.mjs'
import { Fault, step } from './say.mjs'

export async function ensureNpm(root) {
  const stamp = join(root, 'node_modules', '.steady-heron')
  const lock = readFileSync(join(root, 'package-lock.json'))
  const hash = createHash('sha256').update(lock).update(process.version).digest('hex')
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === hash) return
  await step('Installing npm packages (a few minutes the first time)', async () => {
    const { code, output } = await run('npm', ['ci', '--no-audit', '--no-fund'], { cwd: root })
    if (code !== 0) throw new Fault(`npm could not install the packages:\n${tail(output)}`)
    writeFileSync(stamp, hash)
  })
}
