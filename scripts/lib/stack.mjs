/** The whole application: database, stand-ins, server. One way for start, tests, bench and screenshots. */
import { fork } from 'node:child_process'
import { join } from 'node:path'
import { claimDataFolder, keptSettings } from './dataFolder.mjs'
import { portFree } from './ports.mjs'
import { startPostgres } from './postgres.mjs'
import { Fault } from './say.mjs'
import { buildServer } from './server.mjs'

/** Starts one of our processes; resolves with its first `ready` message. */
function startProcess(root, file, env, onProgress) {
  const typescript = file.endsWith('.ts')
  const child = fork(file, [], {
    cwd: root,
    env: { ...process.env, NODE_ENV: 'production', ...env },
    execArgv: typescript ? ['--import', 'tsx'] : ['--enable-source-maps'],
    stdio: ['ignore', 'inherit', 'pipe', 'ipc'],
  })
  let faults = ''
  child.stderr.on('data', (d) => {
    faults = (faults + d).slice(-4000)
    if (child.ready) process.stderr.write(d)
  })
  const ended = new Promise((resolve) => child.on('close', resolve))
  const ready = new Promise((resolve, reject) => {
    child.on('message', (message) => {
      if (message.progress) onProgress(message.progress)
      if (!message.ready) return
      child.ready = true
      resolve(message)
    })
    child.on('error', reject)
    ended.then(() => reject(new Fault(faults.trim() || `${file} ended before it was ready`)))
  })
  return { child, ready, ended }
}

async function stopProcess(process_) {
  if (!process_) return
  const { child, ended } = process_
  if (child.exitCode !== null || child.signalCode !== null) return
  child.kill('SIGTERM')
  const timer = setTimeout(() => child.kill('SIGKILL'), 1500)
  await ended
  clearTimeout(timer)
}

/**
 * @param options {root, data, host, port, simPort, simNet?, fresh?, demo?, onProgress?}
 * @returns {address, accessCode, databaseUrl, simNet, serial, failed, serverPid, restartServer, stop}
 */
export async function startStack(options) {
  const { root, data, host, port, simPort, onProgress = () => {} } = options
  const shown = host === '0.0.0.0' || host === '::' ? '127.0.0.1' : host
  const address = `http://${shown}:${port}`
  const release = claimDataFolder(data, address)
  const parts = { postgres: null, simulator: null, server: null }
  let stopping = null
  const stop = () => {
    stopping ??= (async () => {
      await Promise.all([stopProcess(parts.server), stopProcess(parts.simulator)])
      await parts.postgres?.stop()
      release()
    })()
    return stopping
  }
  try {
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
    // Each page of truth has a network of its own, so that two sets of stand-ins can run side by side.
    const { simNet } = keptSettings(data, {
      simNet: options.simNet ?? `127.${simPort >> 8}.${simPort & 255}`,
    })
    const serial = join(data, 'serial-line')
    const simEnv = { HERON_SIM_PORT: String(simPort), HERON_SIM_NET: simNet, HERON_SIM_SERIAL: serial }
    const furtherPorts = process.env.HERON_SERIAL_PORTS
    let url = process.env.DATABASE_URL
    const startDatabase = async () => {
      if (url && !options.ownDatabase) return
      onProgress('Starting the database')
      parts.postgres = await startPostgres(data, options.throwaway)
      url = parts.postgres.url
    }
    onProgress('Starting the stand-in cameras')
    parts.simulator = startProcess(root, join(root, 'src/simulator/main.ts'), simEnv, onProgress)
    // Where one fails the other is waited for all the same: only what has started can be ended.
    for (const { reason } of await Promise.allSettled([parts.simulator.ready, startDatabase()]))
      if (reason) throw reason
    const serverEnv = (fresh) => ({
      ...simEnv,
      HERON_SERIAL_PORTS: [furtherPorts, serial].filter(Boolean).join(','),
      DATABASE_URL: url,
      HOST: host,
      PORT: String(port),
      HERON_DATA: data,
      HERON_WEB: join(root, 'dist'),
      HERON_DEMO: join(root, 'demo'),
      HERON_MIGRATIONS: join(root, 'src/server/store/migrations'),
      HERON_FRESH: fresh ? '1' : '0',
    })
    onProgress('Starting the server')
    const serverFile = await buildServer(root)
    parts.server = startProcess(root, serverFile, serverEnv(options.fresh), onProgress)
    const { accessCode } = await parts.server.ready
    const failed = Promise.race(
      [
        [parts.simulator, 'The stand-in cameras have ended.'],
        [parts.server, 'The server has ended.'],
        [parts.postgres, 'The database has ended.'],
      ]
        .filter(([part]) => part)
        .map(([part, text]) => part.ended.then(() => text)),
    )
    return {
      address,
      accessCode,
      databaseUrl: url,
      simNet,
      serial,
      failed,
      serverPid: () => parts.server.child.pid,
      /** Ends the server as asked (SIGTERM or SIGKILL) and starts it anew on the same data. */
      async restartServer(signal = 'SIGTERM') {
        parts.server.child.kill(signal)
        await parts.server.ended
        parts.server = startProcess(root, serverFile, serverEnv(false), onProgress)
        await parts.server.ready
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
