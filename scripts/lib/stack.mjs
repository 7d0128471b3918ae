/** The whole application: guardian, database, stand-ins, server. One way for start, tests, bench and screenshots. */
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { backUpBeforeUpdate } from './backup.mjs'
import { claimDataFolder, keptSettings } from './dataFolder.mjs'
import { keepRunning, startProcess } from './part.mjs'
import { portFree } from './ports.mjs'
import { startPostgres } from './postgres.mjs'
import { Fault, say } from './say.mjs'
import { buildServer } from './server.mjs'
import { ensureWebUnder } from './web.mjs'

/** A guardian that has said nothing for this long hangs, ms. */
const GUARDIAN_ALIVE_MS = 3000
/** Somebody who only looks at another venue finds the stand-ins as they were, ms. */
const STAND_INS_REST_MS = 5000

/** The path under which others reach the desk, as `/desk`; what makes no sense is told by the server. */
function basePath() {
  try {
    return new URL(process.env.PUBLIC_URL).pathname.replace(/\/+$/, '')
  } catch {
    return ''
  }
}

async function checkPorts({ host, port, simPort }) {
  if (!(await portFree(port, host === 'localhost' ? '127.0.0.1' : host))) {
    throw new Fault(
      `Port ${port} is in use. Stop what uses it, or choose another: PORT=${port + 10} npm start`,
    )
  }
  if (!(await portFree(simPort))) {
    throw new Fault(
      `Port ${simPort}, for the stand-in cameras, is in use. Choose another: HERON_SIM_PORT=${simPort + 10} npm start`,
    )
  }
}

/**
 * @param options {root, data, host, port, simPort, simNet?, fresh?, empty?, restore?, ownDatabase?,
 *   standInsAlways?, throwaway?, onProgress?}
 * @returns {address, ownerPath, databaseUrl, simNet, serial, pids, tellServer, restartServer, stop}
 */
export async function startStack(options) {
  const { root, data, host, port, simPort, onProgress = () => {} } = options
  const shown = host === '0.0.0.0' || host === '::' ? '127.0.0.1' : host
  const address = `${process.env.HTTPS === '1' ? 'https' : 'http'}://${shown}:${port}`
  const release = claimDataFolder(data, address)
  // Its path must be short, and nobody else may speak to it.
  const guardianFolder = mkdtempSync(join(tmpdir(), 'heron-guardian-'))
  const guardianPath = join(guardianFolder, 'socket')
  const parts = {}
  let stopping = null
  const said = (text) => {
    if (!stopping) say(`- ${text}`)
  }
  const stop = () => {
    stopping ??= (async () => {
      // The server first: it stops the cameras. The guardian last, since it watches over that.
      await Promise.all([parts.server?.stop(), parts.simulator?.stop()])
      parts.guardian?.running?.tell({ end: true })
      await Promise.all([parts.guardian?.stop(), parts.database?.stop()])
      rmSync(guardianFolder, { recursive: true, force: true })
      release()
    })()
    return stopping
  }
  try {
    await checkPorts(options)
    // Each page of truth has a network of its own, so that two sets of stand-ins can run side by side.
    const { simNet, tallyPort } = keptSettings(data, {
      simNet: options.simNet ?? `127.${simPort >> 8}.${simPort & 255}`,
      tallyPort: Number(process.env.HERON_SIM_TALLY ?? simPort),
    })
    const serial = process.env.HERON_SIM_SERIAL ?? join(data, 'serial-line')
    const simEnv = {
      HERON_SIM_PORT: String(simPort),
      HERON_SIM_NET: simNet,
      HERON_SIM_SERIAL: serial,
      HERON_SIM_TALLY: String(tallyPort),
    }
    const files = await buildServer(root)

    const guardianEnv = { HERON_GUARDIAN: guardianPath, HERON_DATA: data }
    parts.guardian = keepRunning(
      'The guardian',
      () => {
        // In a group of its own, so that it outlives what ends the others.
        let aliveMs = Date.now()
        const onMessage = () => {
          aliveMs = Date.now()
        }
        const process_ = startProcess(root, files.guardian, guardianEnv, {
          detached: true,
          first: true,
          onMessage,
        })
        const timer = setInterval(() => {
          if (Date.now() - aliveMs > GUARDIAN_ALIVE_MS) process_.child.kill('SIGKILL')
        }, 500)
        process_.ended.then(() => clearInterval(timer))
        return process_
      },
      said,
    )
    const foreign = process.env.DATABASE_URL && !options.ownDatabase ? process.env.DATABASE_URL : null
    let url = foreign
    let databasePort = null
    parts.database = keepRunning(
      'The database',
      async () => {
        const started = await startPostgres(data, { throwaway: options.throwaway, port: databasePort })
        databasePort = started.port
        url = started.url
        return { ...started, ready: Promise.resolve() }
      },
      said,
    )
    // Tests may run them elsewhere, so that they outlive the start command or are behind a network of their own.
    const elsewhere = process.env.HERON_SIM_ELSEWHERE === '1'
    parts.simulator = keepRunning(
      'The stand-in cameras',
      () => startProcess(root, join(root, 'src/simulator/main.ts'), simEnv),
      (text) => {
        said(text)
        if (/does not start/.test(text)) parts.server?.running?.tell({ standInsFailed: text })
      },
    )
    const furtherPorts = process.env.HERON_SERIAL_PORTS
    const web = await ensureWebUnder(root, basePath())
    let fresh = options.fresh
    let newOwner = options.newOwner ?? process.env.HERON_NEW_OWNER === '1'
    parts.server = keepRunning(
      'The server',
      () => {
        const env = {
          ...simEnv,
          HERON_SERIAL_PORTS: [furtherPorts, serial].filter(Boolean).join(','),
          DATABASE_URL: url,
          HOST: host,
          PORT: String(port),
          HERON_DATA: data,
          HERON_WEB: web,
          HERON_DEMO: join(root, 'demo'),
          HERON_MIGRATIONS: join(root, 'src/server/store/migrations'),
          // Without one only to measure what it costs.
          ...(process.env.HERON_UNGUARDED === '1' ? {} : { HERON_GUARDIAN: guardianPath }),
          HERON_FRESH: fresh ? '1' : '0',
          HERON_EMPTY: options.empty ? '1' : '0',
          // Once: a restart must not open another link.
          HERON_NEW_OWNER: newOwner ? '1' : '0',
        }
        fresh = false
        newOwner = false
        const onMessage = (message) => {
          if (message.progress) onProgress(message.progress)
          if (message.standIns === undefined || stopping || elsewhere) return
          if (!message.standIns && options.standInsAlways) return
          // They run for as long as the open venue uses them, and cost nothing otherwise.
          clearTimeout(standInsRest)
          if (message.standIns) standInsUp ??= parts.simulator.start().catch((error) => standInsDown(error))
          else
            standInsRest = setTimeout(() => {
              standInsUp = null
              void parts.simulator.stop()
            }, STAND_INS_REST_MS)
        }
        return startProcess(root, files.main, env, { onMessage, first: true })
      },
      said,
    )
    let standInsUp = null
    let standInsRest = null
    const standInsDown = (error) => {
      standInsUp = null
      const text = `The stand-in cameras do not start: ${error.message.split('\n')[0]} Your own cameras work without them.`
      say(`- ${text}`)
      parts.server.running?.tell({ standInsFailed: text })
    }

    onProgress('Starting the database')
    await Promise.all([parts.guardian.start(), foreign ? null : parts.database.start()])
    if (!foreign) await backUpBeforeUpdate(root, data, url, options.restore)
    onProgress('Starting the server')
    if (options.standInsAlways && !elsewhere) standInsUp ??= parts.simulator.start()
    const { ownerPath, fingerprint } = await parts.server.start()
    if (standInsUp) {
      onProgress('Starting the stand-in cameras')
      await standInsUp
    }
    return {
      address,
      ownerPath,
      fingerprint,
      databaseUrl: url,
      simNet,
      serial,
      pids: () => ({
        server: parts.server.running?.pid ?? null,
        guardian: parts.guardian.running?.pid ?? null,
        database: parts.database.running?.pid ?? null,
        standIns: parts.simulator.running?.pid ?? null,
      }),
      tellServer: (message) => parts.server.running?.tell(message),
      /** Ends the server as asked (SIGTERM or SIGKILL); it reconnects by itself. Resolves when it has. */
      async restartServer(signal = 'SIGTERM') {
        const before = parts.server.running
        parts.server.forgive()
        before.child.kill(signal)
        await before.ended
        while (!parts.server.running || parts.server.running === before)
          await new Promise((resolve) => setTimeout(resolve, 10))
        await parts.server.running.ready
      },
      stop,
    }
  } catch (error) {
    await stop()
    if (error.code === 'ENOSPC')
      throw new Fault(`The disk that holds ${data} is full. Make room, then start again.`)
    throw error
  }
}
