/** RTSP through ffmpeg: one process for a source, small and at a low rate. It ends with the last who looks. */
import { type ChildProcess, execFile, spawn } from 'node:child_process'
import { setPriority } from 'node:os'
import { parsedUrl } from '../../core/safely'
import type { HttpLogin } from '../links/http'
import { portOf, resolveTarget } from '../links/targets'
import type { Opener, OpenerEvents } from './feed'
import { JpegStream } from './jpegStream'
import { LOGIN_REFUSED } from './mjpeg'

const WIDTH = 640
const PER_SEC = 10
/** The socket's own limit, microseconds. */
const TIMEOUT_US = 4_000_000
/** After a gap this long the first picture is an old one that the decoder had kept, ms. */
const GAP_MS = 1500
/** Key frames may be ten seconds apart; what has given nothing for longer gives nothing at all, ms. */
const GIVES_NOTHING_MS = 10_500
/** A process that does not end when asked is killed, ms. */
const KILL_AFTER_MS = 800

/** Protocols that the list may open: no files of this computer. */
const PROTOCOLS = 'pipe,rtsp,rtsps,rtp,tcp,udp,tls,crypto'
const ARGUMENTS = [
  ...['-loglevel', 'error', '-fflags', 'nobuffer', '-flags', 'low_delay', '-threads', '1'],
  ...['-f', 'concat', '-safe', '0', '-protocol_whitelist', PROTOCOLS, '-i', 'pipe:0'],
  ...['-an', '-vf', `fps=${PER_SEC},scale=${WIDTH}:-2`],
  ...['-threads', '1', '-q:v', '6', '-f', 'mjpeg', 'pipe:1'],
]

interface Way {
  transport: 'tcp' | 'udp'
  timeOption: string
}

/** Up to version 4 `timeout` makes ffmpeg wait for somebody to call. @param help what ffmpeg says of its RTSP options */
export const timeOptionIn = (help: string): string => (/^\s*-stimeout\b/m.test(help) ? 'stimeout' : 'timeout')

let asked: Promise<string> | null = null
/** What limits the time of a socket in the ffmpeg that is installed. */
const timeOption = (): Promise<string> => {
  asked ??= new Promise((resolve) => {
    execFile('ffmpeg', ['-hide_banner', '-h', 'demuxer=rtsp'], (_, help) => resolve(timeOptionIn(help ?? '')))
  })
  return asked
}

/**
 * The address with its login as a list of one, for ffmpeg's standard input: what stands in its arguments can
 * be read by everybody on this computer.
 */
export function listOf(
  address: string,
  { user, password }: HttpLogin,
  { transport, timeOption }: Way,
): string {
  const at = address.indexOf('://') + 3
  const login = user === '' ? '' : `${encodeURIComponent(user)}:${encodeURIComponent(password)}@`
  // A quote would end the name, and is not encoded by itself.
  const url = `${address.slice(0, at)}${login}${address.slice(at)}`.replace(/'/g, '%27')
  return [
    'ffconcat version 1.0',
    `file '${url}'`,
    `option rtsp_transport ${transport}`,
    `option ${timeOption} ${TIMEOUT_US}`,
    'option fflags nobuffer',
    'option probesize 65536',
    'option analyzeduration 300000',
    '',
  ].join('\n')
}

function why(errors: string): string | null {
  if (/401|Unauthorized|403|Forbidden/i.test(errors)) return LOGIN_REFUSED
  if (/404|Not Found/i.test(errors))
    return 'There is no picture under this address. Check the path of the picture.'
  if (/refused/i.test(errors))
    return 'Nothing serves a picture on this port there. Check the port of the picture, and that RTSP is on.'
  if (/timed out|No route|unreachable/i.test(errors))
    return 'The picture does not come: its address does not answer.'
  if (/Invalid data/i.test(errors))
    return 'What is under the address of the picture is no video that can be read.'
  return null
}

function calm({ pid }: ChildProcess): void {
  try {
    if (pid !== undefined) setPriority(pid, 0)
  } catch {
    // It has ended already.
  }
}

function decode(list: string, events: OpenerEvents): ChildProcess {
  const child = spawn('ffmpeg', ARGUMENTS, { stdio: ['pipe', 'pipe', 'pipe'] })
  // Pictures can wait; the server itself cannot, and its children would be as pressing.
  calm(child)
  const reader = new JpegStream()
  let errors = ''
  let lastMs: number | null = null
  // It may have ended before it read the list.
  child.stdin.on('error', () => {})
  child.stdin.end(list)
  child.stdout.on('data', (piece: Buffer) => {
    for (const jpeg of reader.push(piece)) {
      const now = performance.now()
      if (lastMs === null || now - lastMs < GAP_MS) events.jpeg(jpeg)
      lastMs = now
    }
  })
  child.stderr.on('data', (piece: Buffer) => {
    errors = (errors + piece.toString('utf8')).slice(-2000)
  })
  child.on('error', (error: NodeJS.ErrnoException) => {
    const missing = error.code === 'ENOENT'
    events.end(
      missing ? 'The program ffmpeg is missing on the computer that runs Steady Heron.' : error.message,
    )
  })
  child.on('close', () => events.end(why(errors)))
  return child
}

function end(child: ChildProcess): void {
  if (child.exitCode !== null || child.signalCode !== null) return
  child.kill('SIGTERM')
  const timer = setTimeout(() => child.kill('SIGKILL'), KILL_AFTER_MS)
  child.on('close', () => clearTimeout(timer))
}

/** Troubles that another way of sending the same would not mend. */
const NOT_THE_WAY = new Set([LOGIN_REFUSED])

export function openRtsp(address: string, login: HttpLogin): Opener {
  const url = parsedUrl(address)
  if (!url) throw new RangeError('no address')
  // Of one way that gave a picture the next try is made first.
  let transport: Way['transport'] = 'tcp'
  const other = () => {
    transport = transport === 'tcp' ? 'udp' : 'tcp'
  }
  return (events) => {
    let child: ChildProcess | null = null
    let closed = false
    let gave = false
    const from = performance.now()
    const watched: OpenerEvents = {
      jpeg(bytes) {
        gave = true
        events.jpeg(bytes)
      },
      end(trouble) {
        if (!gave && !closed && !NOT_THE_WAY.has(trouble ?? '')) other()
        events.end(trouble)
      },
    }
    Promise.all([timeOption(), resolveTarget(url.hostname, portOf(url))]).then(
      ([option]) => {
        if (!closed) child = decode(listOf(address, login, { transport, timeOption: option }), watched)
      },
      (error: Error) => closed || events.end(error.message),
    )
    return () => {
      closed = true
      if (!gave && performance.now() - from > GIVES_NOTHING_MS) other()
      if (child) end(child)
    }
  }
}
