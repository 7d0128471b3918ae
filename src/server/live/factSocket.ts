/** Facts to a program or a button box: told, and nothing is taken from it. */
import type { WebSocket } from 'ws'
import type { Fact, FactKind } from '../../core/facts/facts'
import type { Facts } from '../facts/facts'

/** What a box may want to show. */
const TOLD: ReadonlySet<FactKind> = new Set([
  'show',
  'tally',
  'travel',
  'claim',
  'health',
  'device',
  'guarded',
])
/** A program this far behind counts as gone, bytes. */
const GONE_BYTES = 1024 * 1024

const told = (facts: readonly Fact[]) => facts.filter(({ kind }) => TOLD.has(kind))

export class FactSockets {
  private readonly sockets = new Set<WebSocket>()

  constructor(private readonly facts: Pick<Facts, 'all' | 'listen'>) {
    facts.listen((all) => {
      const some = told(all)
      if (some.length > 0) this.tell(some)
    })
  }

  accept(socket: WebSocket): void {
    this.sockets.add(socket)
    socket.on('close', () => this.sockets.delete(socket))
    socket.on('error', () => socket.terminate())
    socket.send(JSON.stringify({ t: 'facts', facts: told(this.facts.all) }))
  }

  close(): void {
    for (const socket of this.sockets) socket.close(1001)
  }

  private tell(facts: readonly Fact[]): void {
    const text = JSON.stringify({ t: 'facts', facts })
    for (const socket of this.sockets) {
      if (socket.bufferedAmount > GONE_BYTES) socket.terminate()
      else socket.send(text)
    }
  }
}
