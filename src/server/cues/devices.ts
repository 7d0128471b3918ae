/** Messages to other devices: filled in, sent with retries, their answers kept and shown. */
import { type DeviceMessage, type DeviceState, masked } from '../../core/messages/device'
import { readLine } from '../../core/messages/line'
import { exchange } from '../links/exchange'
import type { DeviceRow } from '../store/devices'
import type { Outcome } from './travelWaits'

const RETRY_AFTER_MS = 200
const MOST_SHOWN = 4000

export interface DevicesDeps {
  device(id: string): DeviceRow | null
  tell(device: string, state: DeviceState): void
  wallMs(): number
  later(ms: number): Promise<void>
}

/** What may be filled in. */
export interface MessageValues {
  camera?: number
  preset?: number
  name?: string
  time?: string
}

export class Devices {
  constructor(private readonly deps: DevicesDeps) {}

  async send(deviceId: string, messageId: string, values: MessageValues): Promise<Outcome> {
    const row = this.deps.device(deviceId)
    const message = row?.view.messages.find(({ id }) => id === messageId)
    if (!row || !message) return { ok: false, why: 'This device or message no longer exists.' }
    const state = await this.attempt(message, row, values)
    this.deps.tell(deviceId, state)
    return state.ok ? { ok: true } : { ok: false, why: `${row.view.name}: ${state.text}` }
  }

  /** One that need not be kept yet, as it is edited. */
  tryOut(
    message: DeviceMessage,
    local: boolean,
    secret: string,
    values: MessageValues,
  ): Promise<DeviceState> {
    const view = { id: '', name: '', local, messages: [message], hasSecret: secret !== '' }
    return this.attempt(message, { view, secret }, values)
  }

  private async attempt(
    { name, line, expects, withinMs, retries }: DeviceMessage,
    { view, secret }: DeviceRow,
    values: MessageValues,
  ): Promise<DeviceState> {
    const all = { camera: 0, preset: 0, name: '', time: '', ...values, secret }
    const done = (ok: boolean, text: string): DeviceState => ({
      ...{ ok, message: name, atMs: this.deps.wallMs() },
      text: masked(text.slice(0, MOST_SHOWN), secret),
    })
    let why = ''
    for (let i = 0; i <= retries; i++) {
      if (i > 0) await this.deps.later(RETRY_AFTER_MS)
      try {
        const { text } = await exchange(readLine(line, all), { withinMs, expects, local: view.local })
        return done(true, text)
      } catch (error) {
        why = (error as Error).message
      }
    }
    return done(false, why)
  }
}
