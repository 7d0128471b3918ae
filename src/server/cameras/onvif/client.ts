/** Calls to one ONVIF device: login with its own clock, faults as ours. */
import { createHash, randomBytes } from 'node:crypto'
import { Agent } from 'node:http'
import type { StopLogin, StopRequest } from '../../../core/guardian/stopOrder'
import { GET_TIME, readTime } from '../../../core/onvif/messages'
import {
  envelope,
  faultOf,
  type Login,
  type Message,
  OnvifFault,
  parseEnvelope,
} from '../../../core/onvif/soap'
import { parsedUrl } from '../../../core/safely'
import { pinnedAgent } from '../../links/certificates'
import { http, type Requests } from '../../links/http'
import { DeviceFault } from '../deviceFault'
import { stopLogin } from '../stopLogin'

export interface OnvifAddress {
  host: string
  port: number
  user: string
  password: string
  secure?: boolean | undefined
  openly?: boolean | undefined
}

const CONTENT_TYPE = 'application/soap+xml; charset=utf-8'
const ANSWER_WITHIN_MS = 1500
/** What is asked once, some devices need seconds for. */
const SET_UP_WITHIN_MS = 8000
const SLOW_TO_SET_UP = /<(tds|trt|tr2):Get|<tptz:GetNodes/
export const DEVICE_PATH = '/onvif/device_service'
/** A clock further off than this is mentioned, ms. */
export const CLOCK_OFF_MS = 5000

const hours = (ms: number) => {
  const minutes = Math.round(Math.abs(ms) / 60_000)
  const text =
    minutes < 120
      ? `${minutes} min`
      : minutes < 2880
        ? `${Math.round(minutes / 60)} h`
        : `${Math.round(minutes / 1440)} days`
  return `${text} ${ms > 0 ? 'ahead' : 'behind'}`
}

export function asDeviceFault(error: unknown, shiftMs: number): DeviceFault {
  if (error instanceof DeviceFault) return error
  if (!(error instanceof OnvifFault)) return new DeviceFault('nonsense', (error as Error).message)
  const off = Math.abs(shiftMs) > CLOCK_OFF_MS ? ` Its clock is ${hours(shiftMs)}.` : ''
  switch (error.kind) {
    case 'clock':
      return new DeviceFault(
        'clock',
        `The camera refuses the login because of the time.${off} Set the camera's clock, then try again.`,
      )
    case 'not-authorized':
      return new DeviceFault('login', `The camera refuses this login. Check the user and the password.${off}`)
    case 'not-supported':
      return new DeviceFault('not-supported', 'The camera cannot do this.')
    case 'other':
      return /does not speak ONVIF/.test(error.message)
        ? new DeviceFault('nonsense', error.message)
        : new DeviceFault('refused', `The camera refused: ${error.message}`)
    default:
      return new DeviceFault('refused', `The camera refused: ${error.message}`)
  }
}

/** What a driver needs of its way to an ONVIF device. */
export type OnvifCalls = Pick<OnvifClient, 'readClock' | 'call' | 'prepared' | 'login' | 'close'>

export class OnvifClient {
  /** The device's clock minus ours, ms. */
  shiftMs = 0
  private readonly agent: Agent
  private readonly base: string

  constructor(
    private readonly address: OnvifAddress,
    private readonly wall: () => number,
    private readonly request: Requests = http,
  ) {
    this.agent = address.secure ? pinnedAgent() : new Agent({ keepAlive: true, maxSockets: 4 })
    this.base = `${address.secure ? 'https' : 'http'}://${address.host}:${address.port}`
  }

  /** Reads the device's clock, which needs no login. */
  async readClock(): Promise<void> {
    const answer = await this.post(DEVICE_PATH, envelope(GET_TIME)).catch((error: unknown) => {
      // Some want a login even for their time, which then has to be near enough to ours.
      if (error instanceof DeviceFault && error.kind === 'login' && this.address.user !== '') return null
      throw error
    })
    if (!answer) {
      this.shiftMs = 0
      return
    }
    const time = readTime(answer.message)
    const header = answer.date === undefined ? null : Date.parse(answer.date)
    const device = time ?? (header !== null && Number.isFinite(header) ? header : null)
    this.shiftMs = device === null ? 0 : device - this.wall()
  }

  /**
   * @param service an address or path of the device's service; its host is not used, since a device
   *   behind another network tells the one it knows
   * @throws DeviceFault
   */
  async call(service: string, body: string): Promise<Message> {
    return (await this.post(pathOf(service), this.sealed(body))).message
  }

  /** A request as it would be sent now, for somebody else to send. */
  prepared(service: string, body: string): StopRequest {
    return {
      url: `${this.base}${pathOf(service)}`,
      method: 'POST',
      body: this.sealed(body),
      contentType: CONTENT_TYPE,
    }
  }

  /** Null if the device asks for none. */
  get login(): StopLogin | null {
    return stopLogin(this.address)
  }

  close(): void {
    this.agent.destroy()
  }

  private sealed(body: string): string {
    return envelope(body, this.address.user === '' ? null : this.token())
  }

  private token(): Login {
    const nonce = randomBytes(16)
    const created = new Date(this.wall() + this.shiftMs).toISOString()
    const digest = createHash('sha1')
      .update(nonce)
      .update(created)
      .update(this.address.password)
      .digest('base64')
    return { user: this.address.user, nonceBase64: nonce.toString('base64'), created, digestBase64: digest }
  }

  private async post(path: string, body: string): Promise<{ message: Message; date: string | undefined }> {
    const { user, password, openly } = this.address
    try {
      const answer = await this.request({
        url: new URL(`${this.base}${path}`),
        method: 'POST',
        body,
        contentType: CONTENT_TYPE,
        login: { user, password, openly },
        timeoutMs: SLOW_TO_SET_UP.test(body) ? SET_UP_WITHIN_MS : ANSWER_WITHIN_MS,
        agent: this.agent,
      })
      const message = parseEnvelope(answer.body.toString('utf8'))
      const fault = faultOf(message)
      if (fault) throw fault
      return { message, date: answer.headers.date }
    } catch (error) {
      throw asDeviceFault(error, this.shiftMs)
    }
  }
}

function pathOf(service: string): string {
  if (service.startsWith('/')) return service
  const url = parsedUrl(service)
  return url ? url.pathname + url.search : DEVICE_PATH
}
