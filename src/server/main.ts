/**
 * The server as a process of its own. Settings: DATABASE_URL, HOST, PORT, HERON_DATA, HERON_WEB (the
 * built pages), HERON_DEMO (folder of the demo to load into an empty database), HERON_SIM_NET,
 * HERON_SIM_SERIAL (the stand-ins' serial port), HERON_SERIAL_PORTS (further serial ports, by path,
 * separated by commas), HERON_FRESH (1 empties the database first).
 */

import { startApp } from './app'
import { AccessCode } from './people/accessCode'
import { ownHosts } from './people/origin'
import { openDatabase } from './store/database'
import { clearAll, loadDemo } from './store/demo'
import { SecretBox } from './store/secrets'

const LOOPBACK = new Set(['127.0.0.1', 'localhost', '::1'])

async function main(): Promise<void> {
  const {
    DATABASE_URL,
    HERON_DATA = '.data',
    HERON_WEB = 'dist',
    HERON_DEMO,
    HERON_SIM_NET,
    HERON_SIM_SERIAL,
  } = process.env
  const host = process.env.HOST ?? '127.0.0.1'
  const port = Number(process.env.PORT ?? 8420)
  if (!DATABASE_URL) throw new Error('DATABASE_URL is not set. Start with "npm start".')
  const database = await openDatabase(DATABASE_URL)
  if (process.env.HERON_FRESH === '1') await clearAll(database.db)
  const secrets = await SecretBox.open(HERON_DATA)
  if (HERON_DEMO) {
    const loaded = await loadDemo(database.db, secrets, HERON_DEMO, {
      net: HERON_SIM_NET ?? '127.0.84',
      serial: HERON_SIM_SERIAL ?? '/tmp/heron-serial',
    })
    if (loaded) process.send?.({ progress: 'Loaded the demo: the Fenland Quiz Final at Osier Barn.' })
  }
  const open = !LOOPBACK.has(host)
  const access = open ? await AccessCode.open(HERON_DATA) : null
  const app = await startApp({
    db: database.db,
    secrets,
    host,
    port,
    dataFolder: HERON_DATA,
    webFolder: HERON_WEB,
    door: { hosts: ownHosts(open), access },
  })
  process.send?.({ ready: true, accessCode: access?.code ?? null })

  let ending = false
  const end = async () => {
    if (ending) return
    ending = true
    // Whatever hangs must not keep the process: the cameras are told to stop first.
    setTimeout(() => process.exit(0), 1200)
    await app.close()
    await database.close()
    process.exit(0)
  }
  process.on('SIGTERM', end)
  process.on('SIGINT', end)
  process.on('disconnect', end)
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
