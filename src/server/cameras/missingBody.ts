/** Stands where a device should be that cannot be made: it says why and does nothing. */

import type { StopOrder } from '../../core/guardian/stopOrder'
import type { Capabilities, Health } from '../../core/live/messages'
import { type Body, NOTHING_READ } from './body'
import type { CameraResult } from './camera'

const NONE: Capabilities = {
  panTilt: false,
  zoom: false,
  focus: false,
  focusMode: false,
  position: false,
  power: false,
  home: false,
  onePush: false,
  focusAt: false,
  digitalZoom: false,
  subject: null,
  memories: 0,
  light: false,
  freeze: false,
  leash: false,
  device: null,
}

export class MissingBody implements Body {
  readonly reading = NOTHING_READ
  readonly capabilities = NONE

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

  private refuse(): Promise<CameraResult> {
    return Promise.resolve({ ok: false, message: this.why })
  }

  listen(): void {}
  readonly zoomsApart = false
  readonly stopPending: boolean = false
  stops = (): StopOrder[] => []
  drive(): void {}
  halt(): void {}
  keepWithin(): void {}
  keepOnLeash(): void {}
  goTo = () => this.refuse()
  setFocusMode = () => this.refuse()
  setPower = () => this.refuse()
  home = () => this.refuse()
  memory = () => this.refuse()
  focusOnce = () => this.refuse()
  focusAt = () => this.refuse()
  setDigitalZoom = () => this.refuse()
  followSubject = () => this.refuse()
  readLight = async () => null
  setLight = () => this.refuse()
  freeze = () => this.refuse()
  readSoon(): void {}
  async close(): Promise<void> {}
}
