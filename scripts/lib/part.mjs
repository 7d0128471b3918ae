/** One of the processes of the application: started, watched, and restarted when it ends by itself. */
import { fork } from 'node:child_process'
import { setPriority } from 'node:os'
import { Fault } from './say.mjs'

const PAUSES_MS = [200, 1000, 3000, 8000, 20_000]
/** One that ran for this long begins with the shortest pause again, ms. */
const WELL_AFTER_MS = 60_000
const KILL_AFTER_MS = 1500
const READY_WITHIN_MS = 60_000

/** The hands' packets go before other work of this computer, where that may be asked for. */
function goFirst(pid) {
  try {
    setPriority(pid, -10)
  } catch {
    // Only root may.
  }
}

/** Starts one process of ours; `ready` resolves with its first such message. */
export function startProcess(
  root,
  file,
  env,
  { onMessage = () => {}, detached = false, first = false } = {},
) {
  const typescript = file.endsWith('.ts')
  const child = fork(file, [], {
    cwd: root,
    env: { ...process.env, NODE_ENV: 'production', ...env },
    execArgv: typescript ? ['--import', 'tsx'] : ['--enable-source-maps'],
    stdio: ['ignore', 'inherit', 'pipe', 'ipc'],
    detached,
  })
  if (first) goFirst(child.pid)
  let faults = ''
  let isReady = false
  child.stderr.on('data', (d) => {
    faults = (faults + d).slice(-4000)
    if (isReady) process.stderr.write(d)
  })
  const ended = new Promise((resolve) => child.on('close', (code, signal) => resolve({ code, signal })))
  const ready = new Promise((resolve, reject) => {
    child.on('message', (message) => {
      onMessage(message)
      if (!message.ready) return
      isReady = true
      resolve(message)
    })
    child.on('error', reject)
    const late = setTimeout(() => child.kill('SIGKILL'), READY_WITHIN_MS)
    child.on('message', (message) => message.ready && clearTimeout(late))
    ended.then(() => {
      clearTimeout(late)
      reject(new Fault(faults.trim() || `${file} ended before it was ready`))
    })
  })
  ready.catch(() => {})
  return {
    child,
    ready,
    ended,
    pid: child.pid,
    tell: (message) => child.connected && child.send(message, () => {}),
    async stop() {
      if (child.exitCode !== null || child.signalCode !== null) return
      child.kill('SIGTERM')
      const timer = setTimeout(() => child.kill('SIGKILL'), KILL_AFTER_MS)
      await ended
      clearTimeout(timer)
    },
  }
}

/**
 * A part of the application that is kept running.
 * @param name as shown to the operator, at the start of a sentence
 * @param begin starts it: returns {ready, ended, stop, pid?, tell?}
 * @param said told what happened
 */
export function keepRunning(name, begin, said) {
  let current = null
  let wanted = false
  let restarts = 0
  let wake = () => {}
  /** The first `ready`, or why there was none. */
  const run = async (first) => {
    while (wanted) {
      const from = Date.now()
      try {
        current = await begin()
        const message = await current.ready
        first?.resolve(message)
        if (restarts > 0) said(`${name} runs again.`)
        first = null
        const { code, signal } = (await current.ended) ?? {}
        current = null
        if (!wanted) return
        said(`${name} has ended (${signal ?? `code ${code}`}). Restarting it.`)
      } catch (error) {
        const failed = current
        current = null
        await failed?.stop?.()
        if (first) {
          wanted = false
          first.reject(error)
          return
        }
        if (!wanted) return
        said(`${name} does not start: ${error.message.split('\n')[0]}`)
      }
      if (Date.now() - from > WELL_AFTER_MS) restarts = 0
      const pause = PAUSES_MS[Math.min(restarts, PAUSES_MS.length - 1)]
      restarts += 1
      await new Promise((resolve) => {
        wake = resolve
        setTimeout(resolve, pause)
      })
    }
  }
  let loop = Promise.resolve()
  return {
    get running() {
      return current
    },
    /** @returns its first `ready` message; rejects where it cannot be started at all */
    async start() {
      // One that is being stopped is let end first.
      if (!wanted) await loop
      if (wanted) return undefined
      wanted = true
      restarts = 0
      return new Promise((resolve, reject) => {
        loop = run({ resolve, reject })
      })
    },
    /** What ends it now was meant: it begins again after the shortest pause. */
    forgive() {
      restarts = 0
    },
    async stop() {
      wanted = false
      wake()
      await current?.stop()
      await loop
    },
  }
}
