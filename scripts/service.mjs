/**
 * `npm run service`: Steady Heron as a service of this computer: it starts at boot, and again when it fails.
 * `npm run service -- --remove` removes it; its data stay. `--print` only shows the unit.
 */
import { execFileSync } from 'node:child_process'
import { accessSync, constants, existsSync, mkdtempSync, realpathSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { ensurePackages } from './lib/debian.mjs'
import { ensureNpm } from './lib/npm.mjs'
import { run, tail } from './lib/run.mjs'
import { Fault, say } from './lib/say.mjs'
import { buildServer } from './lib/server.mjs'
import { unitText } from './lib/unit.mjs'
import { ensureWeb } from './lib/web.mjs'

const root = realpathSync(dirname(dirname(fileURLToPath(import.meta.url))))
const NAME = 'steady-heron'
const UNIT = `/etc/systemd/system/${NAME}.service`
const flags = new Set(process.argv.slice(2))

/** Does systemd run this computer? In a container it mostly does not. */
const systemdRuns = () => existsSync('/run/systemd/system')

const systemctl = async (...args) => {
  const { code, output } = await run('systemctl', args)
  if (code !== 0) throw new Fault(`systemctl ${args.join(' ')} failed:\n${tail(output)}`)
}

function hasUser() {
  try {
    execFileSync('id', ['-u', NAME], { stdio: 'ignore' })
    return true
  } catch {
    return false
  }
}

async function ensureUser() {
  if (hasUser()) return
  const args = [
    '--system',
    '--user-group',
    '--no-create-home',
    '--home-dir',
    '/nonexistent',
    '--shell',
    '/usr/sbin/nologin',
    NAME,
  ]
  const { code, output } = await run('useradd', args)
  if (code !== 0) throw new Fault(`The user ${NAME} could not be made:\n${tail(output)}`)
}

/** Every folder on the path must be open to another user. */
function checkReadable() {
  for (let folder = root; folder !== '/'; folder = dirname(folder)) {
    const mode = Number.parseInt(execFileSync('stat', ['-c', '%a', folder], { encoding: 'utf8' }), 8)
    if ((mode & 0o005) === 0o005) continue
    throw new Fault(
      `The service's own user cannot read ${folder}. Move Steady Heron to a place that all may read, such as /opt/steady-heron, and run this again there.`,
    )
  }
}

const unit = () =>
  unitText({ root, node: process.execPath, user: NAME, host: process.env.HOST, port: process.env.PORT })

/** systemd checks the unit before it is put in place. */
async function verify(text) {
  if (!existsSync('/usr/bin/systemd-analyze')) return
  const folder = mkdtempSync(join(tmpdir(), 'heron-unit-'))
  const file = join(folder, `${NAME}.service`)
  writeFileSync(file, text)
  const { code, output } = await run('systemd-analyze', ['verify', file])
  rmSync(folder, { recursive: true, force: true })
  if (code !== 0) throw new Fault(`systemd refuses the unit:\n${tail(output)}`)
}

async function install() {
  if (process.getuid() !== 0) throw new Fault('Run this as root: sudo npm run service')
  checkReadable()
  await ensurePackages(['postgresql', 'ffmpeg', 'socat'])
  await ensureNpm(root)
  await ensureWeb(root)
  await buildServer(root)
  await ensureUser()
  const text = unit()
  await verify(text)
  writeFileSync(UNIT, text, { mode: 0o644 })
  say(`- Wrote ${UNIT}`)
  if (!systemdRuns()) {
    say(
      '- systemd does not run this computer, so the service is not started. On one that it runs, this command also starts it.',
    )
    return
  }
  await systemctl('daemon-reload')
  await systemctl('enable', NAME)
  await systemctl('restart', NAME)
  say(
    `- Started. It starts at boot from now on. Look at it: systemctl status ${NAME}; its words: journalctl -u ${NAME}`,
  )
}

async function remove() {
  if (process.getuid() !== 0) throw new Fault('Run this as root: sudo npm run service -- --remove')
  if (!existsSync(UNIT)) throw new Fault('There is no such service on this computer.')
  if (systemdRuns()) await systemctl('disable', '--now', NAME)
  rmSync(UNIT)
  if (systemdRuns()) await systemctl('daemon-reload')
  say(
    `- Removed. Its data stay in /var/lib/${NAME}; delete that folder, and the user ${NAME}, if you do not need them.`,
  )
}

async function main() {
  accessSync(root, constants.R_OK)
  if (flags.has('--print')) return say(unit())
  if (flags.has('--remove')) return remove()
  return install()
}

main().catch((error) => {
  console.error(error instanceof Fault ? error.message : error)
  process.exit(1)
})
