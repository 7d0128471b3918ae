/** OSC in and out: addresses below /heron are obeyed, and the state is sent where it is wanted. */
import { createSocket, type Socket } from 'node:dgram'
import { type OscMessage, readOsc, writeOsc } from '../../core/osc/osc'
import type { RemoteValue } from '../../core/remote/addresses'
import { NO_OSC, type OscSettings } from '../../core/remote/settings'
import type { Clock } from '../cameras/clock'
import { type Listening, listenUdp } from '../links/listen'
import { resolveTarget } from '../links/targets'
import { Budget } from '../live/budget'
import type { Remote } from './remote'

export interface OscRemoteDeps {
  remote: Pick<Remote, 'ask'>
  clock: Clock
  /** The whole state. */
  state(): OscMessage[]
  notice(text: string): void
}

const PREFIX = /^\/heron\/(.+)$/
/** All of it again, for a box that was switched on meanwhile, ms. */
const AGAIN_MS = 5000
/** Far more than a box sends. */
const PER_SEC = 300
const AT_ONCE = 600
/** The same complaint is told once in a while, ms. */
const COMPLAIN_MS = 10_000

export class OscRemote {
  private settings: OscSettings = NO_OSC
  private listening: Listening | null = null
  private socket: Socket | null = null
  private to: { address: string; port: number } | null = null
  private told = new Map<string, string>()
  private cancel: () => void = () => {}
  private complainedMs = Number.NEGATIVE_INFINITY
  trouble: string | null = null
  private readonly budget: Budget

  constructor(private readonly deps: OscRemoteDeps) {
    this.budget = new Budget(PER_SEC, AT_ONCE, deps.clock.now())
  }

  configure(settings: OscSettings): void {
    if (JSON.stringify(settings) === JSON.stringify(this.settings)) return
    this.close()
    this.settings = settings
    if (settings.enabled)
      this.listening = listenUdp(settings.port, {
        receive: (bytes, from) => this.receive(bytes, from),
        trouble: (text) => {
          this.trouble = text
        },
      })
    const { feedback } = settings
    if (!feedback) return
    resolveTarget(feedback.host, feedback.port).then(
      (address) => {
        if (this.settings !== settings) return
        this.to = { address, port: feedback.port }
        this.socket = createSocket('udp4').on('error', () => {})
        this.again()
      },
      (error: Error) => {
        this.trouble = error.message
      },
    )
  }

  /** Something has changed: what is new of it is sent. */
  changed(): void {
    const { socket, to } = this
    if (!socket || !to) return
    for (const message of this.deps.state()) {
      const value = JSON.stringify(message.values)
      if (this.told.get(message.path) === value) continue
      this.told.set(message.path, value)
      socket.send(writeOsc(message), to.port, to.address)
    }
  }

  close(): void {
    this.listening?.close()
    this.listening = null
    this.socket?.close()
    this.socket = null
    this.to = null
    this.trouble = null
    this.told.clear()
    this.cancel()
  }

  private again(): void {
    this.told.clear()
    this.changed()
    this.cancel = this.deps.clock.after(AGAIN_MS, () => this.again())
  }

  private receive(bytes: Uint8Array, from: string): void {
    const { rights, from: allowed } = this.settings
    const address = from.slice(0, from.lastIndexOf(':'))
    if (allowed.length > 0 && !allowed.includes(address)) return
    for (const { path, values } of readOsc(bytes)) {
      if (!this.budget.take(this.deps.clock.now())) return
      const [, rest] = PREFIX.exec(path) ?? []
      if (!rest) continue
      const plain = values.map((value): RemoteValue => (value instanceof Uint8Array ? null : value))
      void this.deps.remote
        .ask(rest, plain, { id: `osc ${address}`, name: 'OSC' }, rights)
        .then((problem) => problem && this.complain(`${path} from ${address}: ${problem}`))
    }
  }

  private complain(text: string): void {
    const nowMs = this.deps.clock.now()
    if (nowMs - this.complainedMs < COMPLAIN_MS) return
    this.complainedMs = nowMs
    this.deps.notice(text)
  }
}
