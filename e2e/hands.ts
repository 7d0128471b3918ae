/** Hands on cameras without a browser, over the live socket, and what the truth says when they are let go. */
import WebSocket from 'ws'
import type { FactKind, FactValue } from '../src/core/facts/facts'
import type { FromServer, ToServerMessage } from '../src/core/live/messages'
import type { Truth } from '../src/simulator/standIn'
import { sleep } from './harness'

export interface Push {
  pan: number
  tilt: number
  zoom: number
}

/** A page as far as the server can tell. */
export class Hands {
  readonly heard: FromServer[] = []
  closed = false
  private timer: ReturnType<typeof setInterval> | null = null

  private constructor(private readonly socket: WebSocket) {
    socket.on('message', (data) => this.heard.push(JSON.parse(String(data)) as FromServer))
    socket.on('error', () => {})
    socket.on('close', () => {
      this.closed = true
    })
  }

  static async open(address: string, headers: Record<string, string> = {}): Promise<Hands> {
    const socket = new WebSocket(`${address.replace('http', 'ws')}/live`, { origin: address, headers })
    const hands = new Hands(socket)
    await new Promise<void>((resolve, reject) => {
      socket.once('open', () => resolve())
      socket.once('error', reject)
    })
    return hands
  }

  send(message: ToServerMessage): void {
    if (this.socket.readyState === WebSocket.OPEN) this.socket.send(JSON.stringify(message))
  }

  /** Holds the sticks of these cameras, as a page does: repeated, until let go. */
  hold(pushes: ReadonlyMap<string, Push>): void {
    const tell = () => {
      for (const [camera, push] of pushes) this.send({ t: 'stick', camera, ...push, focus: 0 })
    }
    tell()
    if (this.timer) clearInterval(this.timer)
    this.timer = setInterval(tell, 40)
  }

  /** Stops repeating, without a word. */
  freeze(): void {
    if (this.timer) clearInterval(this.timer)
    this.timer = null
  }

  release(cameras: Iterable<string>): void {
    this.freeze()
    for (const camera of cameras) this.send({ t: 'stick', camera, pan: 0, tilt: 0, zoom: 0, focus: 0 })
  }

  get notices(): string[] {
    return this.heard.flatMap((m) => (m.t === 'notice' ? [m.text] : []))
  }

  /** All that was told of one kind of fact, in order. */
  facts<K extends FactKind>(kind: K, about: string): FactValue<K>[] {
    return this.heard.flatMap((m) =>
      m.t === 'facts'
        ? m.facts.flatMap((f) => (f.kind === kind && f.about === about ? [f.value as FactValue<K>] : []))
        : [],
    )
  }

  /** The newest health that was told of a camera. */
  health(camera: string): string | null {
    return this.facts('health', camera).at(-1)?.state ?? null
  }

  close(): void {
    this.freeze()
    this.socket.close()
  }
}

export interface Standstill {
  id: string
  /** From the fault to the last time it was seen to move, ms. */
  ms: number
  /** What it turned meanwhile, degrees. */
  deg: number
}

const turned = (a: Truth, b: Truth) => Math.hypot(a.panDeg - b.panDeg, a.tiltDeg - b.tiltDeg)

/** Watches until all have stood for a while, and tells when each of them came to rest after the moment now. */
export async function standstills(
  truth: () => Promise<Truth[]>,
  { withinMs = 4000, restMs = 400 }: { withinMs?: number; restMs?: number } = {},
): Promise<Standstill[]> {
  const from = performance.now()
  const first = await truth()
  const seen = new Map(first.map((t) => [t.id, { ms: 0, last: t, begin: t }]))
  while (performance.now() - from < withinMs) {
    const at = performance.now()
    for (const t of await truth()) {
      const known = seen.get(t.id)!
      const moved = t.moving || turned(known.last, t) > 0 || t.zoomPos !== known.last.zoomPos
      if (moved) known.ms = at - from
      known.last = t
    }
    if ([...seen.values()].every((s) => performance.now() - from - s.ms > restMs)) break
    await sleep(10)
  }
  return [...seen].map(([id, { ms, last, begin }]) => ({ id, ms: Math.round(ms), deg: turned(begin, last) }))
}

/** Where a stand-in has most room, so that a drive never ends at an end stop. */
export function inward(t: Truth, speed: number): Push {
  return {
    pan: t.panDeg > 0 ? -speed : speed,
    tilt: (t.tiltDeg > 0 ? -speed : speed) * 0.3,
    zoom: t.zoomPos > 8000 ? -speed : speed,
  }
}
