/**
 * `npm start`: everything from a fresh Debian machine to a running application. Plain JavaScript
 * without packages, since it is what installs them.
 */
import { networkInterfaces } from 'node:os'
import { dirname, resolve } from 'node:path'
import { createInterface } from 'node:readline/promises'
import { fileURLToPath } from 'node:url'
import { backUpTo } from './lib/backup.mjs'
import { ensurePackages } from './lib/debian.mjs'
import { ensureNpm } from './lib/npm.mjs'
import { Fault, say } from './lib/say.mjs'
import { startStack } from './lib/stack.mjs'
import { ensureWeb } from './lib/web.mjs'

const root = dirname(dirname(fileURLToPath(import.meta.url)))
/** For video, and for the stand-ins' serial line. */
const NEEDED = ['ffmpeg', 'socat']
const given = process.argv.slice(2)
const flags = new Set(given)
const LOOPBACK = new Set(['127.0.0.1', 'localhost', '::1'])
const HELP = `npm start -- [--empty] [--fresh [--yes]] [--restore FILE] [--backup FILE] [--new-owner]
  --empty         without the demo: an empty database stays empty
  --fresh         deletes everything first, after asking; --yes to skip that
  --new-owner     prints a link that makes another owner, where the former is forgotten
  --backup FILE   keeps all of the database in a file, and ends
  --restore FILE  puts a backup back first; what is there is backed up before
Settings by the environment: PORT, HOST, HERON_DATA, DATABASE_URL; see README.md and docs/running.md.`

/** The value that follows a flag; undefined where the flag is not given. */
function after(flag) {
  const at = given.indexOf(flag)
  if (at < 0) return undefined
  if (!given[at + 1] || given[at + 1].startsWith('--')) throw new Fault(`${flag} needs a value.`)
  return given[at + 1]
}

function portFrom(name, fallback) {
  const port = Number(process.env[name] ?? fallback)
  if (!Number.isInteger(port) || port < 1 || port > 65535) {
    throw new Fault(`${name}=${process.env[name]} is no port. Give a number from 1 to 65535.`)
  }
  return port
}

async function confirmFresh() {
  if (!flags.has('--fresh') || flags.has('--yes')) return flags.has('--fresh')
  if (!process.stdin.isTTY) throw new Fault('--fresh deletes all events and presets. Add --yes to confirm.')
  const terminal = createInterface({ input: process.stdin, output: process.stdout })
  const typed = await terminal.question(
    'This deletes all events, cameras and presets, and loads the demo. Type "yes" to go on: ',
  )
  terminal.close()
  if (typed.trim().toLowerCase() !== 'yes') throw new Fault('Nothing was changed.')
  return true
}

/** Addresses under which a phone may reach this computer. */
function networkAddresses() {
  return Object.values(networkInterfaces())
    .flat()
    .filter((a) => a && a.family === 'IPv4' && !a.internal)
    .map((a) => a.address)
}

async function announce(stack, host, port) {
  say('')
  say(`Steady Heron is ready: ${stack.address}`)
  const local = LOOPBACK.has(host)
  const secure = process.env.HTTPS === '1'
  const scheme = secure ? 'https' : 'http'
  const addresses = host === '0.0.0.0' || host === '::' ? networkAddresses() : [host]
  const bases = process.env.PUBLIC_URL
    ? [process.env.PUBLIC_URL.replace(/\/$/, '')]
    : local
      ? [stack.address]
      : addresses.map((a) => `${scheme}://${a}:${port}`)
  if (!local) for (const base of bases) say(`On a phone or another computer: ${base}`)
  if (secure) {
    const trustPort = Number(process.env.HERON_TRUST_PORT ?? port + 60)
    for (const a of local ? ['127.0.0.1'] : addresses)
      say(`How a device comes to trust it: http://${a}:${trustPort}`)
    say(`Fingerprint: ${stack.fingerprint}`)
  }
  if (stack.ownerPath) {
    say('')
    say('Become the owner of this desk: open this link once, or scan its square code. Show it to nobody.')
    for (const base of bases) say(`  ${base}${stack.ownerPath}`)
    // It is installed by now; before the packages were, it could not be loaded.
    const { default: qrcode } = await import('qrcode')
    say(await qrcode.toString(`${bases[0]}${stack.ownerPath}`, { type: 'terminal', small: true }))
  }
  say('Ctrl-C ends it.')
}

/** If npm is killed outright there is no signal, but our parent changes. */
function endWithParent(end) {
  const parent = process.ppid
  if (!process.env.npm_lifecycle_event) return
  setInterval(() => process.ppid !== parent && end(), 300).unref()
}

async function main() {
  const host = process.env.HOST || '127.0.0.1'
  const port = portFrom('PORT', 8420)
  const simPort = portFrom('HERON_SIM_PORT', 8421)
  const data = resolve(root, process.env.HERON_DATA || '.data')
  let stack = null
  let ending = false
  const end = async () => {
    if (ending) return
    ending = true
    // Whatever hangs: once we are gone, the children end by themselves.
    setTimeout(() => process.exit(1), 2800).unref()
    await stack?.stop()
    process.exit(0)
  }
  process.on('SIGINT', end)
  process.on('SIGTERM', end)
  process.on('SIGHUP', end)
  endWithParent(end)
  if (flags.has('--help')) return say(HELP)
  const fresh = await confirmFresh()
  await ensurePackages(process.env.DATABASE_URL ? NEEDED : ['postgresql', ...NEEDED])
  const backup = after('--backup')
  if (backup) {
    const kept = await backUpTo(data, backup)
    say(`- Kept all of it in ${kept}.`)
    return say(
      '- Keep the file password-key of the data folder with it: without it no camera password can be read.',
    )
  }
  await ensureNpm(root)
  await ensureWeb(root)
  // The demo's event is under way: the host is on air. Empty: nothing is.
  process.env.HERON_SIM_PROGRAM ??= '3,1'
  const onProgress = (text) => say(`- ${text}`)
  const empty = flags.has('--empty')
  const restore = after('--restore')
  const newOwner = flags.has('--new-owner')
  stack = await startStack({ root, data, host, port, simPort, fresh, empty, restore, newOwner, onProgress })
  if (ending) return stack.stop()
  await announce(stack, host, port)
}

main().catch((error) => {
  console.error(error instanceof Fault ? error.message : error)
  process.exit(1)
})
