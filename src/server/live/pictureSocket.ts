/**
 * Pictures to one browser, on a connection of their own so that they never hold up a pose. The browser
 * says which cameras it looks at, and confirms each frame; with two unconfirmed of a camera, newer
 * frames replace each other until it has caught up, so that what arrives is always the newest.
 */
import * as v from 'valibot'
import type { WebSocket } from 'ws'
import { encodePictureFrame } from '../../core/live/pictureFrame'
import type { Fleet } from '../fleet'
import type { Frame } from '../video/source'

const UNCONFIRMED = 2
const Message = v.variant('t', [
  v.object({ t: v.literal('watch'), cameras: v.pipe(v.array(v.string()), v.maxLength(200)) }),
  v.object({ t: v.literal('shown'), camera: v.string() }),
])

interface Watch {
  stop(): void
  unconfirmed: number
  next: Frame | null
}

export function servePictures(socket: WebSocket, fleet: () => Fleet): void {
  const watches = new Map<string, Watch>()

  const send = (camera: string, watch: Watch, frame: Frame) => {
    watch.unconfirmed += 1
    watch.next = null
    const ageMs = performance.now() - frame.atMs
    socket.send(encodePictureFrame({ camera, number: frame.number, ageMs, jpeg: frame.jpeg }))
  }

  const start = (camera: string) => {
    const pictures = fleet().get(camera)?.pictures
    if (!pictures) return
    const watch: Watch = { stop: () => {}, unconfirmed: 0, next: null }
    const offer = (frame: Frame) => {
      if (watch.unconfirmed < UNCONFIRMED) send(camera, watch, frame)
      else watch.next = frame
    }
    watches.set(camera, watch)
    const latest = pictures.latest
    watch.stop = pictures.watch(offer)
    if (latest) offer(latest)
  }

  const stop = (camera: string) => {
    watches.get(camera)?.stop()
    watches.delete(camera)
  }

  socket.on('message', (data) => {
    let json: unknown
    try {
      json = JSON.parse(String(data))
    } catch {
      return
    }
    const parsed = v.safeParse(Message, json)
    if (!parsed.success) return
    const message = parsed.output
    if (message.t === 'watch') {
      for (const camera of watches.keys()) if (!message.cameras.includes(camera)) stop(camera)
      for (const camera of message.cameras) if (!watches.has(camera)) start(camera)
      return
    }
    const watch = watches.get(message.camera)
    if (!watch) return
    watch.unconfirmed = Math.max(0, watch.unconfirmed - 1)
    if (watch.next) send(message.camera, watch, watch.next)
  })
  socket.on('close', () => {
    for (const camera of [...watches.keys()]) stop(camera)
  })
  socket.on('error', () => socket.terminate())
}
