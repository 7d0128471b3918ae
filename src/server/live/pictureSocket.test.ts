/** Pictures over a way that carries little: they become smaller, and stay the newest. */
import { EventEmitter } from 'node:events'
import { createCanvas, loadImage } from '@napi-rs/canvas'
import type { WebSocket } from 'ws'
import { decodePictureFrame } from '../../core/live/pictureFrame'
import { MAY_ALL } from '../../core/people/may'
import { halfPicture } from '../jobs/pictures'
import type { Feed, Frame } from '../video/frame'
import { makeHalves } from './halves'
import { servePictures } from './pictureSocket'

function picture(shade: number): Uint8Array {
  const canvas = createCanvas(320, 180)
  const context = canvas.getContext('2d')
  for (let x = 0; x < 320; x += 4) {
    context.fillStyle = `hsl(${(x * 7 + shade * 40) % 360} 60% 50%)`
    context.fillRect(x, 0, 4, 180)
  }
  return canvas.toBuffer('image/jpeg', 80)
}

class SlowSocket extends EventEmitter {
  readonly widths: number[] = []
  readonly numbers: number[] = []
  private line = Promise.resolve()
  constructor(private readonly bytesPerMs: number) {
    super()
  }
  ping() {
    queueMicrotask(() => this.emit('pong'))
  }
  terminate() {}
  close() {}
  send(data: Uint8Array | string) {
    if (typeof data === 'string') return
    this.line = this.line.then(async () => {
      await new Promise((resolve) => setTimeout(resolve, data.length / this.bytesPerMs))
      const frame = decodePictureFrame(Uint8Array.from(data).buffer)!
      if (frame.jpeg.length > 0) this.widths.push((await loadImage(Buffer.from(frame.jpeg))).width)
      this.numbers.push(frame.number)
      this.emit('message', JSON.stringify({ t: 'shown', camera: frame.camera }))
    })
  }
}

async function watched(bytesPerMs: number, forMs: number) {
  const listeners = new Set<(frame: Frame) => void>()
  const feed: Feed = {
    ...{ latest: null, trouble: null, fresh: async () => null, close() {} },
    watch(listener) {
      listeners.add(listener)
      return () => listeners.delete(listener)
    },
  }
  let halved = 0
  const halves = makeHalves({
    run: (async (_name: string, jpeg: Uint8Array) => {
      halved += 1
      return halfPicture(jpeg)
    }) as never,
  })
  const sockets = [new SlowSocket(bytesPerMs), new SlowSocket(bytesPerMs)]
  for (const socket of sockets) {
    servePictures(
      socket as unknown as WebSocket,
      () => ({ picturesOf: () => feed }),
      { may: () => MAY_ALL },
      halves,
    )
    socket.emit('message', JSON.stringify({ t: 'watch', cameras: [{ id: 'c', perSec: 20 }] }))
  }
  const shots = [picture(0), picture(1), picture(2)]
  let number = 0
  const came = setInterval(() => {
    number += 1
    const atMs = performance.now()
    const frame = { number, jpeg: shots[number % 3]!.slice(), sinceMs: atMs, atMs }
    for (const listener of listeners) listener(frame)
  }, 50)
  await new Promise((resolve) => setTimeout(resolve, forMs))
  clearInterval(came)
  for (const socket of sockets) socket.emit('close')
  return { sockets, number, halved }
}

test('over a slow way pictures come at half their size, one made for all viewers, each newer than the last', async () => {
  const bytes = picture(0).length
  const { sockets, number, halved } = await watched(bytes / 350, 3600)
  for (const { widths, numbers } of sockets) {
    expect(widths[0]).toBe(320)
    expect(widths.at(-1)).toBe(160)
    expect(numbers).toEqual([...new Set(numbers)].sort((a, b) => a - b))
  }
  expect(halved).toBeLessThanOrEqual(number)
})

test('over a good way they stay whole, and nothing is made smaller', async () => {
  const { sockets, halved } = await watched(1e6, 1500)
  for (const { widths } of sockets) expect(new Set(widths)).toEqual(new Set([320]))
  expect(halved).toBe(0)
})
