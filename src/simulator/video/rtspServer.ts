/** A small RTSP server (RFC 2326): one H.264 track over TCP (interleaved) or UDP, with a digest login. */
import { createHash, randomBytes } from 'node:crypto'
import { createSocket, type Socket as UdpSocket } from 'node:dgram'
import { createServer, type Server, type Socket } from 'node:net'
import type { ControlPort } from '../protocol/controlPort'
import { type Faults, NO_FAULTS } from '../protocol/faults'
import type { AccessUnit, Encoder } from './encoder'
import { payloadsOf, rtpPacket } from './h264'

export interface RtspOptions {
  host: string
  port: number
  path: string
  user: string
  password: string
  /** What it makes of video over TCP; without a word it sends it. */
  overTcp?: 'refused' | 'silent'
}

const REALM = 'barn'
const MAX_HEAD = 16_384
/** A viewer that is this far behind loses pictures, bytes. */
const BEHIND = 200_000
const md5 = (text: string) => createHash('md5').update(text).digest('hex')

interface Request {
  method: string
  url: string
  headers: Record<string, string>
}

/** Status, headers, body. */
type Answer = [string, string[]?, string?]

class Session {
  private readonly id = randomBytes(6).toString('hex')
  private readonly nonce = randomBytes(8).toString('hex')
  private readonly source = randomBytes(4).readUInt32BE()
  private sequence = 0
  private sendRtp: ((packet: Buffer) => void) | null = null
  private stopWatching: (() => void) | null = null
  private udp: UdpSocket | null = null
  private started = false
  private text = Buffer.alloc(0)

  constructor(
    private readonly socket: Socket,
    private readonly options: RtspOptions,
    private readonly encoder: Encoder,
    private readonly faults: () => Faults,
  ) {
    socket.on('data', (piece) => this.take(piece))
    socket.on('close', () => this.end())
    socket.on('error', () => socket.destroy())
  }

  private end(): void {
    this.stopWatching?.()
    this.stopWatching = null
    this.udp?.close()
    this.udp = null
  }

  private take(piece: Buffer): void {
    if (this.faults().mute) return
    this.text = Buffer.concat([this.text, piece])
    for (;;) {
      // Reports of the viewer come between requests on the same connection.
      if (this.text[0] === 0x24) {
        if (this.text.length < 4) return
        const length = 4 + this.text.readUInt16BE(2)
        if (this.text.length < length) return
        this.text = this.text.subarray(length)
        continue
      }
      const end = this.text.indexOf('\r\n\r\n')
      if (end < 0) {
        if (this.text.length > MAX_HEAD) this.socket.destroy()
        return
      }
      const head = this.text.toString('latin1', 0, end)
      this.text = this.text.subarray(end + 4)
      const request = parse(head)
      const answer = this.answer(request)
      if (answer) this.reply(request, answer)
    }
  }

  private reply(request: Request, [status, headers = [], body = '']: Answer): void {
    const lines = [`RTSP/1.0 ${status}`, `CSeq: ${request.headers.cseq ?? '0'}`, ...headers]
    if (body) lines.push('Content-Type: application/sdp', `Content-Length: ${Buffer.byteLength(body)}`)
    this.socket.write(`${lines.join('\r\n')}\r\n\r\n${body}`)
  }

  private allowed({ method, headers }: Request): boolean {
    const { user, password } = this.options
    if (user === '') return true
    const given = headers.authorization ?? ''
    const field = (name: string) => new RegExp(`${name}="([^"]*)"`).exec(given)?.[1] ?? ''
    const action = md5(`${method}:${field('uri')}`)
    const expected = md5(`${md5(`${user}:${REALM}:${password}`)}:${this.nonce}:${action}`)
    return field('username') === user && field('response') === expected
  }

  /** Null if the answer comes later. */
  private answer(request: Request): Answer | null {
    const { method, url, headers } = request
    if (method === 'OPTIONS')
      return ['200 OK', ['Public: OPTIONS, DESCRIBE, SETUP, PLAY, TEARDOWN, GET_PARAMETER']]
    if (!this.allowed(request))
      return ['401 Unauthorized', [`WWW-Authenticate: Digest realm="${REALM}", nonce="${this.nonce}"`]]
    const path = url
      .replace(/^rtsp:\/\/[^/]*/, '')
      .replace(/\/track1$/, '')
      .replace(/\/$/, '')
    if (path !== this.options.path) return ['404 Not Found']
    const session = `Session: ${this.id};timeout=60`
    switch (method) {
      case 'DESCRIBE':
        return ['200 OK', [`Content-Base: ${url.replace(/\/?$/, '/')}`], this.description()]
      case 'SETUP':
        return this.setUp(request, headers.transport ?? '', session)
      case 'PLAY':
        this.stopWatching ??= this.encoder.watch((unit) => this.send(unit))
        return ['200 OK', [session, 'Range: npt=0.000-']]
      case 'TEARDOWN':
        this.end()
        return ['200 OK', [session]]
      case 'GET_PARAMETER':
        return ['200 OK', [session]]
      default:
        return ['501 Not Implemented']
    }
  }

  private description(): string {
    const { host } = this.options
    return [
      'v=0',
      `o=- 1 1 IN IP4 ${host}`,
      's=Osier Barn',
      `c=IN IP4 ${host}`,
      't=0 0',
      'm=video 0 RTP/AVP 96',
      'a=rtpmap:96 H264/90000',
      'a=fmtp:96 packetization-mode=1',
      'a=control:track1',
      '',
    ].join('\r\n')
  }

  private setUp(request: Request, transport: string, session: string): Answer | null {
    const interleaved = /interleaved=(\d+)-(\d+)/.exec(transport)
    const ports = /client_port=(\d+)-(\d+)/.exec(transport)
    if (/TCP/i.test(transport)) {
      if (this.options.overTcp === 'refused') return ['461 Unsupported Transport']
      const channel = Number(interleaved?.[1] ?? 0) & 0xff
      this.sendRtp = (packet) => {
        if (this.options.overTcp === 'silent') return
        const head = Buffer.from([0x24, channel, packet.length >> 8, packet.length & 0xff])
        this.socket.write(Buffer.concat([head, packet]))
      }
      return ['200 OK', [`Transport: RTP/AVP/TCP;unicast;interleaved=${channel}-${channel + 1}`, session]]
    }
    if (!ports) return ['461 Unsupported Transport']
    const udp = createSocket('udp4')
    udp.on('error', () => {})
    this.udp = udp
    udp.bind(0, this.options.host, () => {
      const port = udp.address().port
      const peer = this.socket.remoteAddress!
      this.sendRtp = (packet) => udp.send(packet, Number(ports[1]), peer, () => {})
      const answer = `Transport: RTP/AVP;unicast;client_port=${ports[1]}-${ports[2]};server_port=${port}-${port + 1}`
      this.reply(request, ['200 OK', [answer, session]])
    })
    return null
  }

  private send({ units, key, atMs }: AccessUnit): void {
    const { mute, videoStalls } = this.faults()
    if (!this.sendRtp || mute || videoStalls || this.socket.writableLength > BEHIND) return
    // A viewer cannot begin in the middle.
    this.started ||= key
    if (!this.started) return
    const payloads = units.flatMap(payloadsOf)
    for (const [i, payload] of payloads.entries()) {
      this.sequence += 1
      this.sendRtp(
        rtpPacket(payload, this.sequence, Math.round(atMs * 90), i === payloads.length - 1, this.source),
      )
    }
  }
}

function parse(head: string): Request {
  const [first = '', ...lines] = head.split('\r\n')
  const [method = '', url = ''] = first.split(' ')
  const headers: Record<string, string> = {}
  for (const line of lines) {
    const colon = line.indexOf(':')
    if (colon > 0) headers[line.slice(0, colon).toLowerCase()] = line.slice(colon + 1).trim()
  }
  return { method, url, headers }
}

export class RtspServer implements ControlPort {
  private readonly server: Server
  private readonly sockets = new Set<Socket>()
  private faults: Faults = NO_FAULTS

  constructor(
    private readonly options: RtspOptions,
    private readonly encoder: Encoder,
  ) {
    this.server = createServer((socket) => {
      this.sockets.add(socket)
      socket.setNoDelay(true)
      socket.on('close', () => this.sockets.delete(socket))
      new Session(socket, options, encoder, () => this.faults)
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
    this.faults = faults
  }

  reboot(): void {
    for (const socket of this.sockets) socket.destroy()
  }

  close(): void {
    this.reboot()
    this.encoder.stop()
    this.server.close()
  }
}
