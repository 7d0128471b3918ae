/** Opens what a venue's tally sources say, and turns what comes into signals. */
import { readOsc } from '../../core/osc/osc'
import type { Signal } from '../../core/tally/signal'
import type { TallyKind, TallySource } from '../../core/tally/sources'
import { readTsl5, Tsl5Stream } from '../../core/tally/tsl5'
import { readTsl31Packet, Tsl31Stream } from '../../core/tally/tsl31'
import { type Listener, type Listening, listenTcp, listenUdp } from '../links/listen'
import { openSerial } from '../links/serial'

export interface Hears {
  heard(source: string, signals: Signal[]): void
  /** Its line is gone, or the last of its connections. */
  lost(source: string): void
  trouble(source: string, text: string | null): void
}

/** What an OSC message says with its first argument. */
const oscSignals = (bytes: Uint8Array): Signal[] =>
  readOsc(bytes).map(({ path, values }) => {
    const [value = null] = values
    return { kind: 'message', path, value: value instanceof Uint8Array ? null : value }
  })

const PACKETS = {
  'tsl31-udp': readTsl31Packet,
  'tsl5-udp': readTsl5,
  'osc-udp': oscSignals,
} satisfies Partial<Record<TallyKind, (bytes: Uint8Array) => Signal[]>>

/** TSL 3.1 over serial lines: 38400 8E1. */
const SERIAL = { baud: 38_400, format: '8E1' } as const

function connections(
  port: number,
  hears: { heard(s: Signal[]): void; lost(): void },
  trouble: Listener['trouble'],
) {
  const streams = new Map<string, Tsl5Stream>()
  return listenTcp(port, {
    receive(bytes, from) {
      const stream = streams.get(from) ?? new Tsl5Stream()
      streams.set(from, stream)
      hears.heard(stream.take(bytes))
    },
    ended(from) {
      streams.delete(from)
      if (streams.size === 0) hears.lost()
    },
    trouble,
  })
}

function serial(
  path: string,
  hears: { heard(s: Signal[]): void; lost(): void },
  trouble: Listener['trouble'],
): Listening {
  const stream = new Tsl31Stream()
  const link = openSerial({ path, ...SERIAL })
  link.onReceive((bytes) => hears.heard(stream.take(bytes)))
  link.onTrouble((text) => {
    trouble(text)
    if (text) hears.lost()
  })
  return link
}

function open(source: TallySource, hears: Hears): Listening {
  const { id } = source
  const mine = {
    heard: (signals: Signal[]) => hears.heard(id, signals),
    lost: () => hears.lost(id),
  }
  const trouble = (text: string | null) => hears.trouble(id, text)
  if (source.kind === 'tsl31-serial') return serial(source.path, mine, trouble)
  if (source.kind === 'tsl5-tcp') return connections(source.port, mine, trouble)
  const read = PACKETS[source.kind]
  return listenUdp(source.port, { receive: (bytes) => mine.heard(read(bytes)), trouble })
}

/** Where a source listens: only if this changes is it opened anew. */
const placeOf = (source: TallySource) =>
  `${source.id} ${source.kind} ${source.kind === 'tsl31-serial' ? source.path : source.port}`

export class TallyListeners {
  private open = new Map<string, Listening>()

  constructor(private readonly hears: Hears) {}

  configure(sources: readonly TallySource[]): void {
    const wanted = new Map(sources.filter(({ enabled }) => enabled).map((s) => [placeOf(s), s]))
    // Closing first frees a port that another one is to have.
    for (const [place, listening] of this.open)
      if (!wanted.has(place)) {
        listening.close()
        this.open.delete(place)
      }
    for (const [place, source] of wanted)
      if (!this.open.has(place)) this.open.set(place, open(source, this.hears))
  }

  close(): void {
    this.configure([])
  }
}
