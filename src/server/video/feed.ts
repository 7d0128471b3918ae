/** One connection to a picture source shared by all who look; reopened when it stalls or ends. */
import { type Feed, type Frame, isJpeg } from './frame'

export interface OpenerEvents {
  jpeg(bytes: Uint8Array): void
  /** It is over, by itself; `trouble` says why if known. */
  end(trouble: string | null): void
}

/** Opens a source; returns how to close it. */
export type Opener = (events: OpenerEvents) => () => void

export interface FeedTimes {
  /** Without a picture for this long it is reopened. */
  stalledMs: number
  /** How long the first picture may take; the same as any other if omitted. */
  firstMs?: number
  freshWithinMs: number
  /** How long it stays open when nobody looks any more; at once closed if omitted. */
  lingerMs?: number
}

const RETRY_MS = [500, 700, 1500, 3000]
const NO_ANSWER =
  'No picture comes. Check the address of the picture, and that its stream is switched on in the camera.'

export class SharedFeed implements Feed {
  latest: Frame | null = null
  trouble: string | null = null
  private readonly listeners = new Set<(frame: Frame) => void>()
  private closeSource: (() => void) | null = null
  private retry: ReturnType<typeof setTimeout> | null = null
  private stall: ReturnType<typeof setTimeout> | null = null
  private linger: ReturnType<typeof setTimeout> | null = null
  private count = 0
  private tries = 0

  constructor(
    private readonly opener: Opener,
    private readonly times: FeedTimes = { stalledMs: 3000, freshWithinMs: 2500 },
  ) {}

  watch(listener: (frame: Frame) => void): () => void {
    this.listeners.add(listener)
    if (this.linger) clearTimeout(this.linger)
    this.linger = null
    // It may still be open from the one before, or about to be opened again.
    if (this.listeners.size === 1 && !this.closeSource && !this.retry) this.open()
    return () => {
      if (!this.listeners.delete(listener) || this.listeners.size > 0) return
      const { lingerMs = 0 } = this.times
      if (lingerMs === 0 || !this.closeSource) this.close()
      else this.linger = setTimeout(() => this.close(), lingerMs)
    }
  }

  fresh(): Promise<Uint8Array | null> {
    return new Promise((resolve) => {
      const end = (jpeg: Uint8Array | null) => {
        clearTimeout(timer)
        stop()
        resolve(jpeg)
      }
      const timer = setTimeout(() => end(null), this.times.freshWithinMs)
      const stop = this.watch((frame) => end(frame.jpeg))
    })
  }

  close(): void {
    for (const timer of [this.retry, this.stall, this.linger]) if (timer) clearTimeout(timer)
    this.retry = null
    this.stall = null
    this.linger = null
    this.tries = 0
    this.closeSource?.()
    this.closeSource = null
  }

  private open(): void {
    this.armStall(this.times.firstMs)
    let over = false
    const close = this.opener({
      jpeg: (bytes) => !over && this.take(bytes),
      end: (trouble) => {
        if (over) return
        over = true
        this.ended(trouble)
      },
    })
    this.closeSource = () => {
      over = true
      close()
    }
    // It may have ended while it was opened.
    if (over) this.closeSource = null
  }

  private ended(trouble: string | null): void {
    if (trouble) this.trouble = trouble
    if (this.stall) clearTimeout(this.stall)
    this.stall = null
    this.closeSource = null
    if (this.listeners.size === 0 || this.retry) return
    const wait = RETRY_MS[Math.min(this.tries++, RETRY_MS.length - 1)]!
    this.retry = setTimeout(() => {
      this.retry = null
      if (this.listeners.size > 0) this.open()
    }, wait)
  }

  private armStall(ms = this.times.stalledMs): void {
    if (this.stall) clearTimeout(this.stall)
    this.stall = setTimeout(() => {
      this.closeSource?.()
      this.ended(this.trouble ?? NO_ANSWER)
    }, ms)
  }

  private take(jpeg: Uint8Array): void {
    this.armStall()
    this.tries = 0
    this.trouble = null
    if (!isJpeg(jpeg)) return
    const atMs = performance.now()
    const { latest } = this
    const same = latest !== null && Buffer.compare(jpeg, latest.jpeg) === 0
    // It came now, whatever it shows; for how long it has shown the same is told beside it.
    this.latest = same ? { ...latest, atMs } : { number: ++this.count, jpeg, atMs, sinceMs: atMs }
    for (const listener of [...this.listeners]) listener(this.latest)
  }
}
