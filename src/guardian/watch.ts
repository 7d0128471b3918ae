/**
 * What the guardian decides, without I/O: time comes in as an argument. It hears the server's beats, knows
 * what moves, and says what is to be stopped and when the server is to be ended.
 */
import { BEAT_LATE_MS, HANGS_MS, type Left, STOPPING_MS } from '../core/guardian/messages'
import type { Movable } from '../core/guardian/stopOrder'
import type { StopRun } from './run'

/** A pause of the whole computer counts as no more than this of the server's lateness, ms. */
const MOST_PER_TICK_MS = 60

export interface WatchActs {
  /** Begins to stop this device; goes on until it has answered, or until it is called off. */
  stop(what: Movable): StopRun
  /** The server hangs: it is killed, so that it can be restarted. */
  endServer(pid: number): void
  /** To the server that is connected. */
  tellStopped(keys: string[], lateMs: number): void
  /** The set of moving devices has changed: saved, so that it is known after a power cut. */
  keep(moving: Left[]): void
}

interface Run {
  until: number
  work: StopRun
}

export class Watch {
  private readonly moving = new Map<string, Movable>()
  private readonly runs = new Map<string, Run>()
  private server: { pid: number; lateMs: number; stopped: boolean; ended: boolean } | null = null
  private left: Left[]
  private leftAtMs: number | null = null
  private tickedMs: number

  /** @param left what moved when an earlier guardian was lost */
  constructor(
    private readonly acts: WatchActs,
    left: Left[],
    nowMs: number,
  ) {
    this.left = left
    this.tickedMs = nowMs
  }

  /** Is there nothing to do, and nobody to watch over? */
  get idle(): boolean {
    return this.server === null && this.runs.size === 0
  }

  /** A server has come. @returns what moved when the former one was lost */
  hello(pid: number): { cameras: Left[]; atMs: number | null } {
    this.server = { pid, lateMs: 0, stopped: false, ended: false }
    // It stops them itself from here on: two who number packets would disturb each other.
    this.endRuns()
    this.moving.clear()
    const told = { cameras: this.left, atMs: this.leftAtMs }
    this.left = []
    this.leftAtMs = null
    this.acts.keep([])
    return told
  }

  beat(): void {
    const { server } = this
    if (!server) return
    const late = server.lateMs
    server.lateMs = 0
    if (!server.stopped) return
    server.stopped = false
    const keys = [...this.runs.keys()]
    this.endRuns()
    this.acts.tellStopped(keys, late)
  }

  moves(what: Movable): void {
    const known = this.moving.has(what.key)
    this.moving.set(what.key, what)
    if (!known) this.keep()
  }

  rests(key: string): void {
    if (this.moving.delete(key)) this.keep()
  }

  /** The server has stopped everything and ends. */
  bye(): void {
    this.moving.clear()
    this.keep()
    this.server = null
  }

  /** The connection is gone, without a word. @param wallMs ms since 1970 */
  lost(nowMs: number, wallMs: number): void {
    if (!this.server) return
    this.server = null
    const cameras = new Map([...this.moving.values()].map(({ camera, name }) => [camera, name]))
    this.left = [...cameras].map(([camera, name]) => ({ camera, name }))
    this.leftAtMs = this.left.length > 0 ? wallMs : null
    this.stopAll(nowMs)
  }

  /** Call it every few tens of ms. */
  tick(nowMs: number): void {
    const passed = Math.min(MOST_PER_TICK_MS, Math.max(0, nowMs - this.tickedMs))
    this.tickedMs = nowMs
    const { server } = this
    if (server) {
      server.lateMs += passed
      if (server.lateMs >= BEAT_LATE_MS && !server.stopped) {
        server.stopped = true
        this.stopAll(nowMs)
      }
      if (server.lateMs >= HANGS_MS && !server.ended) {
        server.ended = true
        this.acts.endServer(server.pid)
      }
    }
    for (const [key, run] of this.runs) {
      if (!run.work.answered && nowMs < run.until) continue
      run.work.end()
      // While the server hangs it is kept, so that the server is told of it.
      if (!server) this.runs.delete(key)
    }
  }

  private stopAll(nowMs: number): void {
    for (const [key, what] of this.moving) {
      if (!this.runs.has(key)) this.runs.set(key, { until: nowMs + STOPPING_MS, work: this.acts.stop(what) })
    }
  }

  private endRuns(): void {
    for (const run of this.runs.values()) run.work.end()
    this.runs.clear()
  }

  private keep(): void {
    this.acts.keep([...this.moving.values()].map(({ camera, name }) => ({ camera, name })))
  }
}
