/**
 * The server as a process of its own. Settings: DATABASE_URL, HOST, PORT, HERON_DATA, HERON_WEB (the
 * built pages), HERON_DEMO (folder of the demo), HERON_EMPTY (1: an empty database stays empty),
 * HERON_GUARDIAN (path of the guardian's socket), HERON_SIM_NET, HERON_SIM_SERIAL, HERON_SIM_TALLY (the stand-ins'
 * network, serial port, and the port to which their switcher sends tally), HERON_SERIAL_PORTS (further serial ports, by path, separated by commas), HERON_FRESH
 * (1 empties the database first), HERON_NEW_OWNER (1 opens a link that makes another owner),
 * HTTPS (1: with a certificate of its own), HERON_TRUST_PORT (the page that shows how to trust it), PUBLIC_URL and
 * TRUST_PROXY (behind a proxy).
 */

import { X509Certificate } from 'node:crypto'
import { hostname } from 'node:os'
import * as v from 'valibot'
import { startApp } from './app'
import { listenForFaults } from './faultsOnPurpose'
import { GuardianClient } from './guardian/guardian'
import { openTls } from './http/tls'
import { ownPort } from './links/targets'
import { log, logInto } from './log'
import { outsideFrom } from './people/arrival'
import { networkAddresses, ownHosts, withPublic } from './people/origin'
import { openDatabase } from './store/database'
import { clearAll, loadDemo } from './store/demo'
import { SecretBox } from './store/secrets'

const LOOPBACK = new Set(['127.0.0.1', 'localhost', '::1'])
/** Long enough for a stop to reach every camera, ms. */
const LAST_WORDS_MS = 300
const FAILED = 70

// One mistake of a large input says enough: listing them all would take longer than the input.
v.setGlobalConfig({ abortEarly: true, abortPipeEarly: true })

const sentence = (left: { name: string }[]) => left.map(({ name }) => name).join(', ')

async function main(): Promise<void> {
  const {
    DATABASE_URL,
    HERON_DATA = '.data',
    HERON_WEB = 'dist',
    HERON_DEMO = 'demo',
    HERON_GUARDIAN,
    HERON_SIM_NET = '127.0.84',
    HERON_SIM_SERIAL = '/tmp/heron-serial',
    HERON_SIM_TALLY = '8421',
  } = process.env
  const host = process.env.HOST ?? '127.0.0.1'
  const port = Number(process.env.PORT ?? 8420)
  if (!DATABASE_URL) throw new Error('DATABASE_URL is not set. Start with "npm start".')
  logInto(HERON_DATA)
  const guardian = HERON_GUARDIAN ? new GuardianClient(HERON_GUARDIAN) : null
  ownPort(port)
  const databasePort = Number(new URL(DATABASE_URL).port || 5432)
  ownPort(databasePort)
  const database = await openDatabase(DATABASE_URL)
  if (process.env.HERON_FRESH === '1') await clearAll(database.db)
  const secrets = await SecretBox.open(HERON_DATA)
  const demo = {
    folder: HERON_DEMO,
    place: { net: HERON_SIM_NET, serial: HERON_SIM_SERIAL, tallyPort: Number(HERON_SIM_TALLY) },
  }
  if (process.env.HERON_EMPTY !== '1') {
    const loaded = await loadDemo(database.db, secrets, demo, 'if-empty')
    if (loaded) process.send?.({ progress: 'Loaded the demo: the Fenland Quiz Final at Osier Barn.' })
  }
  const outside = outsideFrom(process.env)
  // Behind a proxy others reach it too, whatever it listens on itself.
  const open = !LOOPBACK.has(host) || outside.publicUrl !== null || outside.proxies > 0
  const scheme = outside.secure ? 'https' : 'http'
  const addresses = () =>
    outside.publicUrl
      ? [`${outside.publicUrl.origin}${outside.base}`]
      : LOOPBACK.has(host)
        ? []
        : networkAddresses(host).map((address) => `${scheme}://${address}:${port}`)
  const hosts = () => withPublic(ownHosts(open), outside.publicUrl?.hostname ?? null)
  const tls = outside.secure
    ? await openTls({
        folder: HERON_DATA,
        names: () => [hostname(), ...[...ownHosts(true)].map((name) => name.replace(/^\[|\]$/g, ''))],
        ...{ hosts, host, trustPort: Number(process.env.HERON_TRUST_PORT ?? port + 60), addresses },
        failed: (error) => log.error({ err: error }, 'the certificate could not be renewed'),
      })
    : null
  const left = (await guardian?.left) ?? null
  const moved = left?.cameras ?? []
  const app = await startApp({
    db: database.db,
    databaseUrl: DATABASE_URL,
    secrets,
    host,
    port,
    dataFolder: HERON_DATA,
    webFolder: HERON_WEB,
    ...{ hosts, outside, tls, reachable: open, addresses },
    newOwner: process.env.HERON_NEW_OWNER === '1',
    guardian,
    moved,
    interrupted:
      moved.length > 0
        ? `The server had to be restarted. These cameras were moving and have been stopped: ${sentence(moved)}.`
        : null,
    demo,
    standIns: (needed) => process.send?.({ standIns: needed }),
  })
  if (process.env.HERON_FAULTS === '1') listenForFaults()
  process.send?.({
    ...{ ready: true, ownerPath: app.ownerPath },
    fingerprint: tls ? new X509Certificate(tls.authority()).fingerprint256 : null,
  })

  let ending = false
  const end = async (code = 0) => {
    if (ending) return
    ending = true
    // Whatever hangs must not keep the process: the cameras are told to stop first.
    setTimeout(() => process.exit(code), 1200)
    await app.close()
    guardian?.close()
    await database.close()
    process.exit(code)
  }
  process.on('SIGTERM', () => void end())
  process.on('SIGINT', () => void end())
  process.on('disconnect', () => void end())
  process.on('message', (message: { do?: string; standInsFailed?: string }) => {
    if (message.standInsFailed) app.notice(message.standInsFailed)
  })
  // Nobody knows the state after it: everything is stopped, and the start command restarts the server.
  process.on('uncaughtException', (error) => {
    log.fatal({ err: error }, 'an exception that nobody caught: everything is stopped')
    setTimeout(() => process.exit(FAILED), LAST_WORDS_MS)
    app.haltAll()
  })
  process.on('unhandledRejection', (reason) => {
    log.error({ err: reason }, 'a promise failed and nobody listened')
  })
}

main().catch((error: NodeJS.ErrnoException) => {
  const port = process.env.PORT ?? '8420'
  const text =
    error.code === 'EADDRINUSE'
      ? `Port ${port} is in use. Stop what uses it, or choose another with PORT=8430 npm start.`
      : error.code === 'EADDRNOTAVAIL'
        ? `HOST=${process.env.HOST} is no address of this computer.`
        : `The server cannot start: ${error.message}`
  console.error(text)
  process.exit(1)
})
