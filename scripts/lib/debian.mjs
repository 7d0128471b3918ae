/** Installs the Debian packages that are missing. */
import { existsSync, readdirSync } from 'node:fs'
import { run, tail } from './run.mjs'
import { Fault, step } from './say.mjs'

/** The newest installed PostgreSQL's programs, or null. */
export function postgresPrograms() {
  const base = '/usr/lib/postgresql'
  if (!existsSync(base)) return null
  const versions = readdirSync(base).filter((v) => existsSync(`${base}/${v}/bin/postgres`))
  const newest = versions.sort((a, b) => Number(b) - Number(a))[0]
  return newest ? `${base}/${newest}/bin` : null
}

const NEEDS = {
  postgresql: () => postgresPrograms() !== null,
  ffmpeg: () => existsSync('/usr/bin/ffmpeg'),
  socat: () => existsSync('/usr/bin/socat'),
  haproxy: () => existsSync('/usr/sbin/haproxy'),
  chromium: () => existsSync('/usr/bin/chromium'),
  iproute2: () => existsSync('/usr/sbin/ip') || existsSync('/sbin/ip'),
}

/** @param names of packages, keys of the table above */
export async function ensurePackages(names) {
  const missing = names.filter((name) => !NEEDS[name]())
  if (missing.length === 0) return
  const root = process.getuid() === 0
  const sudo = !root && existsSync('/usr/bin/sudo')
  const list = missing.join(' ')
  if (!existsSync('/usr/bin/apt-get') || (!root && !sudo)) {
    throw new Fault(
      `These packages are missing: ${list}. Install them (as root: apt-get install ${list}), then start again.`,
    )
  }
  const apt = async (...args) => {
    const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' }
    const command = root
      ? ['apt-get', ...args]
      : ['sudo', '--preserve-env=DEBIAN_FRONTEND', 'apt-get', ...args]
    return run(command[0], command.slice(1), { env, stdio: [root ? 'ignore' : 'inherit', 'pipe', 'pipe'] })
  }
  await step(`Installing Debian packages: ${list}`, async () => {
    await apt('update')
    const { code, output } = await apt('install', '-y', '--no-install-recommends', ...missing)
    if (code !== 0) throw new Fault(`Debian's package manager could not install ${list}:\n${tail(output)}`)
  })
}
