/** Takes the place of a device that cannot be opened: it says why, and does nothing. */
import type { Health } from '../../core/facts/health'
import type { StopOrder } from '../../core/guardian/stopOrder'
import { type Body, type BodyOrders, NO_SETTINGS, NOTHING_READ, type Traits } from './body'

const NONE: Traits = {
  panTilt: false,
  zoom: false,
  focus: false,
  position: { panTilt: false, zoom: false },
  subject: null,
  memories: 0,
  device: null,
}

export class MissingBody implements Body {
  readonly reading = NOTHING_READ
  readonly traits = NONE
  readonly orders: BodyOrders = {}
  readonly settings = NO_SETTINGS
  readonly zoomsApart = false
  readonly stopPending: boolean = false

  constructor(private readonly why: string) {}

  get health(): Health {
    return {
      state: 'connecting',
      advice: this.why,
      roundTripMs: null,
      loss: 0,
      silentMs: null,
      reconnects: 0,
    }
  }

  listen(): void {}
  stops = (): StopOrder[] => []
  drive(): void {}
  halt(): void {}
  readLight = async () => null
  readSoon(): void {}
  async close(): Promise<void> {}
}
