/** A stand-in's picture over HTTP: /snapshot.jpg, and /stream.mjpg as multipart JPEG. */
import { createServer, type Server, type ServerResponse } from 'node:http'
import type { Shot } from '../scene/render'
import type { Renderer } from './renderer'

const WIDTH = 640
const HEIGHT = 360
const QUALITY = 84
const BOUNDARY = 'frame'

export class PictureServer {
  /** A fault: the stream keeps its connection and sends nothing more. */
  frozen = false
  private readonly server: Server
  private readonly viewers = new Set<ServerResponse>()
  private timer: ReturnType<typeof setInterval> | null = null
  private drawing = false

  constructor(
    private readonly renderer: Renderer,
    private readonly shot: () => Shot,
    private readonly framesPerSec: number,
  ) {
    this.server = createServer((request, response) => {
      const path = (request.url ?? '').split('?')[0]
      if (path === '/snapshot.jpg') void this.snapshot(response)
      else if (path === '/stream.mjpg') this.stream(response)
      else response.writeHead(404, { 'content-type': 'text/plain' }).end('There is no such page here.\n')
    })
  }

  listen(host: string, port: number): Promise<void> {
    return new Promise((resolve, reject) => {
      this.server.once('error', reject)
      this.server.listen(port, host, () => {
        this.server.off('error', reject)
        resolve()
      })
    })
  }

  close(): void {
    if (this.timer) clearInterval(this.timer)
    this.server.close()
    this.server.closeAllConnections()
  }

  private draw(): Promise<Uint8Array> {
    return this.renderer.draw(this.shot(), WIDTH, HEIGHT, QUALITY)
  }

  private async snapshot(response: ServerResponse): Promise<void> {
    if (this.frozen) return
    const jpeg = await this.draw()
    response.writeHead(200, { 'content-type': 'image/jpeg', 'cache-control': 'no-store' }).end(jpeg)
  }

  private stream(response: ServerResponse): void {
    response.writeHead(200, {
      'content-type': `multipart/x-mixed-replace; boundary=${BOUNDARY}`,
      'cache-control': 'no-store',
    })
    this.viewers.add(response)
    response.on('close', () => {
      this.viewers.delete(response)
      if (this.viewers.size === 0 && this.timer) {
        clearInterval(this.timer)
        this.timer = null
      }
    })
    this.timer ??= setInterval(() => void this.frame(), 1000 / this.framesPerSec)
    void this.frame()
  }

  private async frame(): Promise<void> {
    if (this.drawing || this.frozen) return
    this.drawing = true
    const jpeg = await this.draw()
    this.drawing = false
    const head = `--${BOUNDARY}\r\nContent-Type: image/jpeg\r\nContent-Length: ${jpeg.length}\r\n\r\n`
    for (const viewer of this.viewers) {
      // A viewer that cannot keep up skips frames rather than falling behind.
      if (viewer.writableLength > 0) continue
      viewer.cork()
      viewer.write(head)
      viewer.write(jpeg)
      viewer.write('\r\n')
      viewer.uncork()
    }
  }
}
