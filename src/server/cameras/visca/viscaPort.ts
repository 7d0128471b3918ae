/** What a VISCA driver needs of its way to the camera: a session that something keeps going. */

import type { StopOrder } from '../../../core/guardian/stopOrder'
import type { ViscaSession } from '../../../core/visca/session'
import type { SessionEvent } from '../../../core/visca/sessionTypes'
import type { StopParts } from '../../../core/visca/stopPackets'
import type { Link } from '../../links/link'
import type { Clock } from '../clock'

/** A stop that waits for this long wants another connection, ms. */
const RENEW_FOR_STOP_MS = 350

export interface ViscaPort {
  readonly session: ViscaSession
  /** What stops these parts without the session. */
  stops(parts: StopParts): StopOrder[]
  onEvents(listener: (events: readonly SessionEvent[]) => void): void
  onTrouble(listener: (trouble: string | null) => void): void
  /** Sends what is due and sets the next alarm. Call it after every order. */
  settle(): void
  close(): void
}

/** A camera with a link of its own. */
export class OwnPort implements ViscaPort {
  private listener: (events: readonly SessionEvent[]) => void = () => {}
  private cancelTimer: () => void = () => {}
  private closed = false
  private renewedMs = Number.NEGATIVE_INFINITY

  constructor(
    readonly session: ViscaSession & { reconnected?(): void },
    private readonly link: Link,
    private readonly clock: Clock,
    readonly stops: (parts: StopParts) => StopOrder[] = () => [],
  ) {
    link.onReceive((bytes, elsewhere) => {
      if (elsewhere) session.note('otherPort', clock.now())
      session.receive(bytes, clock.now())
      this.settle()
    })
    link.onOpen(() => {
      session.reconnected?.()
      this.advance()
    })
    this.advance()
  }

  onEvents(listener: (events: readonly SessionEvent[]) => void): void {
    this.listener = listener
  }

  onTrouble(listener: (trouble: string | null) => void): void {
    this.link.onTrouble(listener)
  }

  settle(): void {
    if (this.closed) return
    const { session, link, clock } = this
    const events = session.takeEvents()
    if (events.some((e) => e.type === 'state' && e.state === 'silent')) link.renew()
    if (events.length > 0) this.listener(events)
    for (const bytes of session.takeDatagrams()) link.send(bytes)
    this.renewForStop()
    this.cancelTimer()
    const now = clock.now()
    const next = session.nextAtMs(now)
    if (Number.isFinite(next)) {
      this.cancelTimer = clock.after(Math.max(0, Math.ceil(next - now)), () => this.advance())
    }
  }

  close(): void {
    this.closed = true
    this.cancelTimer()
    this.link.close()
  }

  /** On a connection that was cut the system retries ever more rarely: a new one gets a stop through sooner. */
  private renewForStop(): void {
    const now = this.clock.now()
    const since = this.session.stopSinceMs
    if (since === null || now - Math.max(since, this.renewedMs) < RENEW_FOR_STOP_MS) return
    this.renewedMs = now
    this.link.renew()
  }

  private advance(): void {
    this.session.advance(this.clock.now())
    this.settle()
  }
}
