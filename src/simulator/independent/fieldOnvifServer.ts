/** Such an ONVIF camera behind a real socket: HTTP or HTTPS, and the logins of HTTP. */
import { createHash, randomBytes } from 'node:crypto'
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http'
import { createServer as createSecure } from 'node:https'
import type { AddressInfo } from 'node:net'
import type { FieldHead } from './fieldHead'
import { FieldOnvif, type OnvifOddities, SETS_UP } from './fieldOnvif'

export interface SocketOddities {
  /** In the envelope, by HTTP Digest of which two kinds and Basic are offered in one line, or Basic alone. */
  login: 'envelope' | 'digest' | 'basic'
  /** Its certificate and key, PEM: then it speaks HTTPS. */
  tls: { cert: string; key: string } | null
  /** What it takes to answer what it is asked at first, ms. */
  setUpMs: number
}

export const LOGIN = { user: 'keeper', password: 'fen-gate-9' }
const REALM = 'field'
const POLL_MS = 20
const hash = (name: string, text: string) => createHash(name).update(text).digest('hex')

export class FieldOnvifServer {
  readonly server: Server
  camera: FieldOnvif | null = null
  /** How often a request came without a login that it could take. */
  refused = 0
  /** The headers of logins that came. */
  readonly logins: string[] = []
  private nonce = randomBytes(8).toString('hex')
  private readonly counts = new Set<string>()
  private readonly socket: SocketOddities
  private timer: ReturnType<typeof setInterval> | null = null

  constructor(
    private readonly head: FieldHead,
    private readonly oddities: Partial<OnvifOddities> = {},
    socket: Partial<SocketOddities> = {},
  ) {
    this.socket = { login: 'envelope', tls: null, setUpMs: 0, ...socket }
    const serve = (request: IncomingMessage, response: ServerResponse) => void this.serve(request, response)
    this.server = this.socket.tls ? (createSecure(this.socket.tls, serve) as Server) : createServer(serve)
  }

  /** @returns its port */
  async listen(host: string, port = 0): Promise<number> {
    await new Promise<void>((resolve) => this.server.listen(port, host, resolve))
    const at = (this.server.address() as AddressInfo).port
    const base = `${this.socket.tls ? 'https' : 'http'}://${host}:${at}`
    const envelope = this.socket.login === 'envelope' ? LOGIN : null
    this.camera = new FieldOnvif(this.head, base, envelope, this.oddities)
    this.timer = setInterval(() => this.camera!.poll(performance.now()), POLL_MS)
    return at
  }

  close(): void {
    if (this.timer) clearInterval(this.timer)
    this.server.close()
    this.server.closeAllConnections()
  }

  private async serve(request: IncomingMessage, response: ServerResponse): Promise<void> {
    let text = ''
    for await (const piece of request) text += piece
    if (!this.mayEnter(request)) {
      this.refused += 1
      const challenge =
        this.socket.login === 'basic'
          ? `Basic realm="${REALM}"`
          : `Digest realm="${REALM}", qop="auth", algorithm=SHA-256, nonce="${this.nonce}", Digest realm="${REALM}", qop="auth,auth-int", algorithm=MD5, nonce="${this.nonce}", opaque="q", Basic realm="${REALM}"`
      response.writeHead(401, { 'www-authenticate': challenge }).end()
      return
    }
    const slow = SETS_UP.test(text) ? this.socket.setUpMs : 0
    if (slow > 0) await new Promise((resolve) => setTimeout(resolve, slow))
    const answer = this.camera!.receive(request.url ?? '/', text, performance.now())
    response.writeHead(answer.status, { 'content-type': 'application/soap+xml' }).end(answer.text)
  }

  private mayEnter(request: IncomingMessage): boolean {
    const { login } = this.socket
    if (login === 'envelope') return true
    const given = request.headers.authorization
    if (!given) return false
    this.logins.push(given)
    const { user, password } = LOGIN
    if (login === 'basic') return given === `Basic ${Buffer.from(`${user}:${password}`).toString('base64')}`
    const field = (name: string) => new RegExp(`\\b${name}="?([^",]*)"?`).exec(given)?.[1] ?? ''
    const kind = /SHA-256/i.test(field('algorithm')) ? 'sha256' : 'md5'
    const count = `${field('nonce')} ${field('nc')}`
    // A count that was used is a login that was overheard.
    if (field('nonce') !== this.nonce || this.counts.has(count)) return false
    const first = hash(kind, `${user}:${REALM}:${password}`)
    const second = hash(kind, `${request.method}:${request.url}`)
    const whole = [first, this.nonce, field('nc'), field('cnonce'), 'auth', second].join(':')
    if (field('response') !== hash(kind, whole)) return false
    this.counts.add(count)
    return true
  }
}
