/** Carries the requests of a command set over HTTP, TCP or UDP and brings the answers back. */
import { createSocket } from 'node:dgram'
import { Agent } from 'node:http'
import { connect, type Socket } from 'node:net'
import type { CommandRequest, CommandSet } from '../../../core/commands/commandSet'
import { fillTemplate, type Values } from '../../../core/commands/template'
import { pinnedAgent } from '../../links/certificates'
import { http, type Requests } from '../../links/http'
import { resolveTarget } from '../../links/targets'
import { troubleText } from '../../links/troubles'
import { DeviceFault } from '../deviceFault'

export interface CommandAddress {
  host: string
  port: number
  user: string
  password: string
  secure?: boolean | undefined
  openly?: boolean | undefined
}

export interface Wire {
  /**
   * @param wantsAnswer false: resolves as soon as it was sent, where the transport allows that
   * @throws DeviceFault
   */
  send(request: CommandRequest, values: Values, wantsAnswer: boolean): Promise<string>
  close(): void
}

const ANSWER_WITHIN_MS = 1000
const CONNECT_WITHIN_MS = 2000
const MAX_ANSWER = 64 * 1024

const late = () => new DeviceFault('network', troubleText({ code: 'ETIMEDOUT', message: '' }), 'ETIMEDOUT')
const broken = (error: NodeJS.ErrnoException) =>
  new DeviceFault('network', troubleText(error), error.code ?? null)

export function openWire(set: CommandSet, address: CommandAddress, requests: Requests = http): Wire {
  if (set.transport === 'http') return new HttpWire(set, address, requests)
  return set.transport === 'tcp' ? new TcpWire(set, address) : new UdpWire(address)
}

class HttpWire implements Wire {
  private readonly agent: Agent

  constructor(
    private readonly set: CommandSet,
    private readonly address: CommandAddress,
    private readonly request: Requests,
  ) {
    this.agent = address.secure ? pinnedAgent() : new Agent({ keepAlive: true, maxSockets: 4 })
  }

  async send(request: CommandRequest, values: Values): Promise<string> {
    const { host, port, user, password, secure, openly } = this.address
    const body = request.text === undefined ? undefined : fillTemplate(request.text, values)
    const answer = await this.request({
      url: new URL(
        `${secure ? 'https' : 'http'}://${host}:${port}${fillTemplate(request.path ?? '/', values)}`,
      ),
      method: request.method,
      body: request.method === 'GET' ? undefined : (body ?? ''),
      contentType: request.contentType,
      login: this.set.login === 'none' ? null : { user, password, openly },
      maxBytes: MAX_ANSWER,
      agent: this.agent,
    })
    if (answer.status >= 200 && answer.status < 300) return answer.body.toString('utf8')
    if (answer.status === 403)
      throw new DeviceFault('login', 'The camera refuses this login. Check the user and the password.')
    if (answer.status === 404)
      throw new DeviceFault('not-supported', 'The camera does not know this command. Check its command set.')
    throw new DeviceFault('refused', `The camera refused the command (HTTP ${answer.status}).`)
  }

  close(): void {
    this.agent.destroy()
  }
}

/** One connection, one question at a time, in order. */
class TcpWire implements Wire {
  private socket: Promise<Socket> | null = null
  private buffer = ''
  private arrived: () => void = () => {}
  private turn: Promise<unknown> = Promise.resolve()

  constructor(
    private readonly set: CommandSet,
    private readonly address: CommandAddress,
  ) {}

  send(request: CommandRequest, values: Values, wantsAnswer: boolean): Promise<string> {
    const text = fillTemplate(request.text ?? '', values)
    if (!wantsAnswer) return this.write(text).then(() => '')
    const mine = this.turn.then(() => this.ask(text))
    this.turn = mine.catch(() => {})
    return mine
  }

  close(): void {
    void this.socket?.then((socket) => socket.end()).catch(() => {})
  }

  private open(): Promise<Socket> {
    const { host, port } = this.address
    this.socket ??= resolveTarget(host, port).then(
      (address) => this.connect(address),
      (error) => {
        this.socket = null
        throw broken(error)
      },
    )
    return this.socket
  }

  private connect(host: string): Promise<Socket> {
    return new Promise<Socket>((resolve, reject) => {
      const socket = connect({ host, port: this.address.port, noDelay: true })
      const deadline = setTimeout(
        () => socket.destroy(Object.assign(new Error(), { code: 'ETIMEDOUT' })),
        CONNECT_WITHIN_MS,
      )
      socket.once('connect', () => {
        clearTimeout(deadline)
        resolve(socket)
      })
      socket.on('data', (piece) => {
        this.buffer = (this.buffer + piece.toString('latin1')).slice(-MAX_ANSWER)
        this.arrived()
      })
      socket.on('error', (error) => reject(broken(error)))
      socket.on('close', () => {
        clearTimeout(deadline)
        this.socket = null
        this.buffer = ''
        reject(broken({ code: 'ECONNRESET', name: '', message: '' }))
      })
    })
  }

  private async write(text: string): Promise<void> {
    ;(await this.open()).write(text, 'latin1')
  }

  private async ask(text: string): Promise<string> {
    // Something that came unasked, such as the answer to a command, does not answer this.
    this.buffer = ''
    await this.write(text)
    const until = performance.now() + ANSWER_WITHIN_MS
    for (;;) {
      const end = this.buffer.indexOf(this.set.answerEnds)
      if (end >= 0) {
        const answer = this.buffer.slice(0, end)
        this.buffer = this.buffer.slice(end + this.set.answerEnds.length)
        return answer
      }
      const left = until - performance.now()
      if (left <= 0) {
        // A connection that only seems to be there is recreated.
        void this.socket?.then((socket) => socket.destroy()).catch(() => {})
        throw late()
      }
      await new Promise<void>((resolve) => {
        const timer = setTimeout(resolve, left)
        this.arrived = () => {
          clearTimeout(timer)
          resolve()
        }
      })
    }
  }
}

/** A socket for each question, so that no late answer is taken for another's. */
class UdpWire implements Wire {
  constructor(private readonly address: CommandAddress) {}

  async send(request: CommandRequest, values: Values, wantsAnswer: boolean): Promise<string> {
    const { host, port } = this.address
    const text = Buffer.from(fillTemplate(request.text ?? '', values), 'latin1')
    const address = await resolveTarget(host, port).catch((error) => {
      throw broken(error)
    })
    return new Promise((resolve, reject) => {
      const socket = createSocket('udp4')
      const end = (done: () => void) => {
        clearTimeout(timer)
        socket.close()
        done()
      }
      const timer = setTimeout(() => end(() => reject(late())), ANSWER_WITHIN_MS)
      socket.once('error', (error) => end(() => reject(broken(error))))
      socket.once('message', (message) => end(() => resolve(message.toString('latin1').slice(0, MAX_ANSWER))))
      socket.connect(port, address, (error?: Error) => {
        if (error) return end(() => reject(broken(error)))
        socket.send(text, (failed) => {
          if (failed) end(() => reject(broken(failed)))
          else if (!wantsAnswer) end(() => resolve(''))
        })
      })
    })
  }

  close(): void {}
}
