/** RTSP through ffmpeg: one process for a source, small and at a low rate. It ends with the last who looks. */
import { spawn } from 'node:child_process'
import type { HttpLogin } from '../links/http'
import type { Opener } from './feed'
import { JpegStream } from './jpegStream'
import { LOGIN_REFUSED } from './mjpeg'

const WIDTH = 640
const PER_SEC = 10
/** The socket's own limit, microseconds. */
const TIMEOUT_US = 4_000_000
/** After a gap this long the first picture is an old one that the decoder had kept, ms. */
const GAP_MS = 1500
/** A process that does not end when asked is killed, ms. */
const KILL_AFTER_MS = 800

function withLogin(address: string, { user, password }: HttpLogin): string {
  if (user === '') return address
  const at = address.indexOf('://') + 3
  return `${address.slice(0, at)}${encodeURIComponent(user)}:${encodeURIComponent(password)}@${address.slice(at)}`
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

export function openRtsp(address: string, login: HttpLogin): Opener {
  return (events) => {
    const args = [
      '-nostdin',
      ...['-loglevel', 'error'],
      ...['-rtsp_transport', 'tcp', '-timeout', String(TIMEOUT_US)],
      ...['-fflags', 'nobuffer', '-flags', 'low_delay', '-probesize', '65536', '-analyzeduration', '300000'],
      ...['-threads', '1', '-i', withLogin(address, login)],
      ...['-an', '-vf', `fps=${PER_SEC},scale=${WIDTH}:-2`],
      ...['-threads', '1', '-q:v', '6', '-f', 'mjpeg', 'pipe:1'],
    ]
    const child = spawn('ffmpeg', args, { stdio: ['ignore', 'pipe', 'pipe'] })
    const reader = new JpegStream()
    let errors = ''
    let over = false
    let lastMs: number | null = null
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
      over = true
      const missing = error.code === 'ENOENT'
      events.end(
        missing ? 'The program ffmpeg is missing on the computer that runs Steady Heron.' : error.message,
      )
    })
    child.on('close', () => {
      over = true
      events.end(why(errors))
    })
    return () => {
      if (over) return
      child.kill('SIGTERM')
      const timer = setTimeout(() => child.kill('SIGKILL'), KILL_AFTER_MS)
      child.on('close', () => clearTimeout(timer))
    }
  }
}
