/** A stand-in's picture over HTTP: /snapshot.jpg, and /stream.mjpg as multipart JPEG; with a login where it has one. */
import { createHash, randomBytes } from 'node:crypto'
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http'
import type { ControlPort } from '../protocol/controlPort'
import type { Faults } from '../protocol/faults'

const BOUNDARY = 'frame'
const REALM = 'picture'
const md5 = (text: string) => createHash('md5').update(text).digest('hex')

export interface PictureOptions {
  host: string
  port: number
  perSec: number
  login?: { user: string; password: string }
}

export class PictureServer implements ControlPort {
  /** The stream keeps its connection and sends nothing more. */
  private frozen = false
  private readonly server: Server
  /** Each with the picture that it was sent last. */
  private readonly viewers = new Map<ServerResponse, Uint8Array | null>()
  private readonly nonce = randomBytes(8).toString('hex')
  private timer: ReturnType<typeof setInterval> | null = null
  private drawing = false

  constructor(
    private readonly options: PictureOptions,
    private readonly draw: () => Promise<Uint8Array>,
  ) {
    this.server = createServer((request, response) => {
      const path = (request.url ?? '').split('?')[0]
      if (!this.allowed(request)) {
        response
          .writeHead(401, {
            'www-authenticate': `Digest realm="${REALM}", nonce="${this.nonce}", qop="auth"`,
          })
          .end()
      } else if (path === '/snapshot.jpg') void this.snapshot(response)
      else if (path === '/stream.mjpg') this.stream(response)
      else if (path === '/')
        response.writeHead(200, { 'content-type': 'text/plain' }).end("The stand-in's own page.\n")
      else response.writeHead(404, { 'content-type': 'text/plain' }).end('There is no such page here.\n')
    })
  }

  listen(): Promise<void> {
    return new Promise((resolve, reject) => {
      this.server.once('error', reject)
      this.server.listen(this.options.port, this.options.host, () => {
        this.server.off('error', reject)
        resolve()
      })
    })
  }

  setFaults(faults: Faults): void {
    this.frozen = faults.mute
  }

  reboot(): void {
    this.server.closeAllConnections()
  }

  close(): void {
    if (this.timer) clearInterval(this.timer)
    this.server.close()
    this.server.closeAllConnections()
  }

  private allowed(request: IncomingMessage): boolean {
    const { login } = this.options
    if (!login) return true
    const given = request.headers.authorization ?? ''
    const field = (name: string) => new RegExp(`\\b${name}="?([^",]*)"?`).exec(given)?.[1] ?? ''
    const secret = md5(`${login.user}:${REALM}:${login.password}`)
    const action = md5(`${request.method}:${field('uri')}`)
    const expected = md5(`${secret}:${this.nonce}:${field('nc')}:${field('cnonce')}:auth:${action}`)
    return field('username') === login.user && field('response') === expected
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
    this.viewers.set(response, null)
    response.on('close', () => {
      this.viewers.delete(response)
      if (this.viewers.size === 0 && this.timer) {
        clearInterval(this.timer)
        this.timer = null
      }
    })
    this.timer ??= setInterval(() => void this.frame(), 1000 / this.options.perSec)
    void this.frame()
  }

  private async frame(): Promise<void> {
    if (this.drawing || this.frozen) return
    this.drawing = true
    const jpeg = await this.draw()
    this.drawing = false
    const head = `--${BOUNDARY}\r\nContent-Type: image/jpeg\r\nContent-Length: ${jpeg.length}\r\n\r\n`
    for (const [viewer, last] of this.viewers) {
      // A viewer that cannot keep up skips frames rather than falling behind.
      if (last === jpeg || viewer.writableLength > 0) continue
      this.viewers.set(viewer, jpeg)
      viewer.cork()
      viewer.write(head)
      viewer.write(jpeg)
      viewer.write('\r\n')
      viewer.uncork()
    }
  }
}
