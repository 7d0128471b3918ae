/** Matches replies that carry no number, or none that can be relied on: by the order in which things were sent. */
import type { Book } from './book'
import { decodeAnswer } from './inquiries'
import type { Reply } from './replies'
import type { Entry } from './sessionTypes'

/** How long an answer that was given up may still arrive, ms. */
const LATE_MS = 600

export class ByOrder {
  /** When copies were sent, or commands given up, whose acknowledgements may still come. */
  private strays: number[] = []
  /** It acknowledges: then a completion alone belongs to something that is over. */
  private acknowledges = false

  constructor(
    private readonly book: Book,
    private readonly settle: (entry: Entry, reply: Reply, nowMs: number) => void,
    /** Does the link lose packets? */
    private readonly lossy: () => boolean,
  ) {}

  /** To be called for everything that goes out. @param fresh not a copy of what was sent before */
  sent(entry: Entry, fresh: boolean, nowMs: number): void {
    this.strays = this.strays.filter((atMs) => nowMs - atMs < LATE_MS)
    if (entry.urgency === 'stop' && fresh) entry.debt = this.strays.length
    if (entry.tries > 1 && !entry.inquiry) this.strays.push(nowMs)
  }

  /** A command got no answer and is not sent again. */
  abandoned(nowMs: number): void {
    this.strays.push(nowMs)
  }

  /** Nothing of what was sent before will be answered. */
  clear(): void {
    this.strays = []
  }

  take(reply: Reply, nowMs: number): void {
    switch (reply.kind) {
      case 'answer': {
        const asked = this.book.oldestSent((e) => !!e.inquiry)
        // One that does not fit is the late answer to an older question.
        if (asked && decodeAnswer(asked.inquiry!, reply.packet)) this.settle(asked, reply, nowMs)
        return
      }
      case 'ack':
        this.takeAcknowledgement(reply, nowMs)
        return
      case 'completed':
        this.takeCompletion(reply, nowMs)
        return
      case 'error':
        this.takeRefusal(reply, nowMs)
    }
  }

  private takeAcknowledgement(reply: Reply & { kind: 'ack' }, nowMs: number): void {
    const command = this.commandAnswered()
    if (!command) return
    if (!this.certain(command)) return
    this.acknowledges = true
    // A socket that is given out again has ended what ran in it.
    for (const e of this.book.inSocket(reply.socket)) this.settle(e, { ...reply, kind: 'completed' }, nowMs)
    this.settle(command, reply, nowMs)
  }

  private takeCompletion(reply: Reply & { kind: 'completed' }, nowMs: number): void {
    const running = this.book.inSocket(reply.socket)
    for (const e of running) this.settle(e, reply, nowMs)
    if (running.length > 0 || this.acknowledges) return
    // Some cameras complete what they never acknowledged.
    const unacknowledged = this.book.entries.find((e) => e.phase === 'running' && e.socket === null)
    if (unacknowledged) {
      this.settle(unacknowledged, reply, nowMs)
      return
    }
    const command = this.commandAnswered()
    if (!command) return
    if (!this.certain(command)) return
    this.settle(command, reply, nowMs)
  }

  /** Older answers that may still come are not this one's; and a stop over a bad link wants two. */
  private certain(command: Entry): boolean {
    if (command.debt > 0) command.debt -= 1
    else if (command.urgency === 'stop' && !command.dropped && !command.answeredOnce && this.lossy())
      command.answeredOnce = true
    else return true
    return false
  }

  /**
   * Whose answer it is cannot be known where several wait. A drive that is taken for answered is soon followed by
   * another; a stop must be certain, so it comes last and is repeated meanwhile.
   */
  private commandAnswered(): Entry | undefined {
    return (
      this.book.oldestSent((e) => (e.urgency === 'drive' || e.dropped) && !e.inquiry) ??
      this.book.oldestSent((e) => !e.inquiry)
    )
  }

  private takeRefusal(reply: Reply & { kind: 'error' }, nowMs: number): void {
    const { error, socket } = reply
    const target =
      error === 'cancelled' || error === 'no-socket'
        ? this.book.inSocket(socket)[0]
        : this.book.oldestSent((e) => !e.inquiry || error === 'syntax' || error === 'not-executable')
    if (target) this.settle(target, reply, nowMs)
  }
}
