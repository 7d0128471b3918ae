/**
 * The guardian as a process of its own: it outlives the server and stops what moves when the server cannot.
 * It has no dependency. Settings: HERON_GUARDIAN (path of its socket), HERON_DATA (folder in which it keeps
 * what moves).
 */
import { chmodSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { createServer, type Socket } from 'node:net'
import { join } from 'node:path'
import {
  ALIVE_EVERY_MS,
  BEAT,
  type FromGuardian,
  type Left,
  type ToGuardian,
} from '../core/guardian/messages'
import { startStop } from './stopRun'
import { Watch } from './watch'

const TICK_MS = 20
/** Nobody we know sends longer lines, characters. */
const MOST_LINE = 256 * 1024
/** Without a parent it ends when all is done, and after this at the latest, ms. */
const ALONE_MS = 15_000
const GONE_MS = 400

const path = process.env.HERON_GUARDIAN
if (!path) {
  console.error('HERON_GUARDIAN is not set. Start with "npm start".')
  process.exit(1)
}
const kept = join(process.env.HERON_DATA ?? '.data', 'moving.json')

function readKept(): Left[] {
  try {
    const list = JSON.parse(readFileSync(kept, 'utf8')) as unknown
    if (!Array.isArray(list)) return []
    return list.flatMap((x: Partial<Left> | null) =>
      typeof x?.camera === 'string' && typeof x.name === 'string' ? [{ camera: x.camera, name: x.name }] : [],
    )
  } catch {
    return []
  }
}

function keep(moving: Left[]): void {
  try {
    const part = `${kept}.part`
    writeFileSync(part, JSON.stringify(moving), { mode: 0o600 })
    renameSync(part, kept)
  } catch {
    // The disk is full: all else goes on.
  }
}

let server: Socket | null = null
const tell = (message: FromGuardian) => {
  if (server?.writable) server.write(`${JSON.stringify(message)}\n`)
}

const watch = new Watch(
  {
    stop: startStop,
    endServer: (pid) => {
      console.error('The server hangs: it is ended, to be restarted.')
      try {
        process.kill(pid, 'SIGKILL')
      } catch {
        // It has ended by itself.
      }
    },
    tellStopped: (keys, lateMs) => tell({ t: 'stopped', keys, lateMs: Math.round(lateMs) }),
    keep,
  },
  readKept(),
  performance.now(),
)

function take(line: string, from: Socket): void {
  if (line === BEAT) {
    watch.beat()
    return
  }
  let message: ToGuardian
  try {
    message = JSON.parse(line) as ToGuardian
  } catch {
    return
  }
  switch (message.t) {
    case 'hello': {
      server?.destroy()
      server = from
      tell({ t: 'left', ...watch.hello(message.pid) })
      return
    }
    case 'moves':
      watch.moves(message.what)
      return
    case 'rests':
      watch.rests(message.key)
      return
    case 'bye':
      watch.bye()
      server = null
  }
}

const listener = createServer((socket) => {
  let held = ''
  socket.setEncoding('utf8')
  socket.on('data', (text) => {
    held += text
    for (let end = held.indexOf('\n'); end >= 0; end = held.indexOf('\n')) {
      const line = held.slice(0, end)
      held = held.slice(end + 1)
      take(line, socket)
    }
    if (held.length > MOST_LINE) socket.destroy()
  })
  socket.on('error', () => {})
  socket.on('close', () => {
    if (server !== socket) return
    server = null
    watch.lost(performance.now(), Date.now())
  })
})
rmSync(path, { force: true })
listener.listen(path, () => {
  chmodSync(path, 0o600)
  process.send?.({ ready: true })
})

let parent = true
const end = () => {
  rmSync(path, { force: true })
  process.exit(0)
}
setInterval(() => watch.tick(performance.now()), TICK_MS)
setInterval(() => {
  tell({ t: 'alive' })
  if (parent && process.connected) process.send?.({ alive: true }, () => {})
}, ALIVE_EVERY_MS)
process.on('message', (message: { end?: boolean }) => message.end && end())
process.on('disconnect', () => {
  // The start command is gone. The server ends now as well; what still moves then is stopped first.
  parent = false
  const since = performance.now()
  setInterval(() => {
    const waited = performance.now() - since
    if ((watch.idle && waited > GONE_MS) || waited > ALONE_MS) end()
  }, 50)
})
// Ctrl-C goes to all: the start command says when it is time.
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.on(signal, () => {})
