/**
 * The whole application for tests, bench and screenshots: on free ports and a data folder of its own,
 * told what to do in lines of JSON on its standard input, answering in lines of JSON.
 * Orders: {"do":"restart","signal":"SIGTERM"}, {"do":"fault","fault":"throw"}, {"do":"pids"}, {"do":"stop"}.
 * Settings: HOST, HERON_EMPTY, HERON_STAND_INS (as-needed: they rest where no camera of the open venue is one).
 */
import { spawn } from 'node:child_process'
import { chmodSync, mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { createInterface } from 'node:readline'
import { fileURLToPath } from 'node:url'
import { freePort } from './lib/ports.mjs'
import { startStack } from './lib/stack.mjs'

const root = dirname(dirname(fileURLToPath(import.meta.url)))
const tell = (message) => process.stdout.write(`${JSON.stringify(message)}\n`)
const data = mkdtempSync(join(tmpdir(), 'heron-data-'))
// Whoever started this is gone: end.
process.stdout.on('error', () => void stop(1))
// The database's own user must be able to enter.
chmodSync(data, 0o755)
let stack = null
const pids = () => ({ pids: stack.pids(), serverPid: stack.pids().server })

async function stop(code) {
  await stack?.stop()
  // A few thousand files: nobody waits until they are deleted.
  spawn('rm', ['-rf', data], { detached: true, stdio: 'ignore' }).unref()
  process.exit(code)
}

try {
  const port = await freePort()
  const simPort = await freePort()
  stack = await startStack({
    root,
    data,
    host: process.env.HOST || '127.0.0.1',
    port,
    simPort,
    simNet: process.env.HERON_SIM_NET,
    empty: process.env.HERON_EMPTY === '1',
    ownDatabase: true,
    standInsAlways: process.env.HERON_STAND_INS !== 'as-needed',
    throwaway: true,
  })
  tell({
    address: stack.address,
    sim: `http://127.0.0.1:${simPort}`,
    simNet: stack.simNet,
    serial: stack.serial,
    ownerPath: stack.ownerPath,
    databaseUrl: stack.databaseUrl,
    ...pids(),
  })
} catch (error) {
  tell({ error: error.message })
  await stop(1)
}

process.on('SIGTERM', () => void stop(0))
process.on('SIGINT', () => void stop(0))
const lines = createInterface({ input: process.stdin })
lines.on('line', async (line) => {
  const order = JSON.parse(line)
  if (order.do === 'restart') {
    await stack.restartServer(order.signal)
    tell({ restarted: true, ...pids() })
  } else if (order.do === 'fault') stack.tellServer({ fault: order.fault })
  else if (order.do === 'pids') tell(pids())
  else await stop(0)
})
lines.on('close', () => void stop(0))
