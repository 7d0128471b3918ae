/** What a VISCA driver needs of its way to the camera: a session that something keeps going. */
import type { ViscaSession } from '../../../core/visca/session'
import type { SessionEvent } from '../../../core/visca/sessionTypes'
import type { Link } from '../../links/link'
import type { Clock } from '../clock'

export interface ViscaPort {
  readonly session: ViscaSession
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

  constructor(
    readonly session: ViscaSession & { reconnected?(): void },
    private readonly link: Link,
    private readonly clock: Clock,
  ) {
    link.onReceive((bytes) => {
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

  private advance(): void {
    this.session.advance(this.clock.now())
    this.settle()
  }
}
