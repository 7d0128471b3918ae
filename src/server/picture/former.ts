/** What cameras were set to before a recall or a match: brought back by an undo, after a restart too. */
import { randomUUID } from 'node:crypto'
import type { LookCamera } from '../../core/picture/looks'
import type { Clock } from '../cameras/clock'

export interface Former {
  id: string
  /** What was done after it, as “Evening” was recalled. */
  what: string
  cameras: LookCamera[]
  atMs: number
  /** `cut`: the server ended in the middle of it. */
  state: 'running' | 'done' | 'cut'
}

/** Where it lasts. Each may fail: then it is known until the server ends. */
export interface FormerStore {
  add(former: Former): Promise<void>
  setState(id: string, state: Former['state']): Promise<void>
  remove(id: string): Promise<void>
  /** Newest first. */
  all(): Promise<Former[]>
  /** What still runs in what is kept was cut short by the end of the server that did it. @returns those, newest first */
  cutShort(): Promise<Former[]>
}

const MOST = 30
/** A recall does not wait longer for a database that hangs, ms. */
const PATIENCE_MS = 400

export class FormerSettings {
  private known: Former[] = []
  /** Undone, though the database may not have heard of it. */
  private readonly used = new Set<string>()
  /** What is still being written: its end must not overtake its beginning. */
  private readonly writing = new Map<string, Promise<void>>()

  constructor(
    private readonly store: FormerStore,
    private readonly clock: Clock,
    private readonly failed: (error: unknown) => void,
  ) {}

  /** @returns what undoes it, once that would outlast the server or the database has had its time */
  async keep(what: string, cameras: LookCamera[]): Promise<string> {
    const former: Former = {
      ...{ id: randomUUID(), what, cameras, state: 'running' },
      atMs: this.clock.wall(),
    }
    this.known = [former, ...this.known].slice(0, MOST)
    const written = this.inTurn(former.id, () => this.store.add(former))
    await Promise.race([written, new Promise<void>((resolve) => this.clock.after(PATIENCE_MS, resolve))])
    return former.id
  }

  ended(id: string): void {
    const former = this.known.find((one) => one.id === id)
    if (former) former.state = 'done'
    void this.inTurn(id, () => this.store.setState(id, 'done'))
  }

  /** Takes it away: it can be brought back once. */
  async take(id: string): Promise<Former | null> {
    const mine = (one: Former) => one.id === id
    // What is known here does not wait for the database.
    const former = this.known.find(mine) ?? (await this.list()).find(mine) ?? null
    this.known = this.known.filter((one) => one.id !== id)
    this.used.add(id)
    void this.inTurn(id, () => this.store.remove(id))
    return former
  }

  private inTurn(id: string, write: () => Promise<void>): Promise<void> {
    const done = (this.writing.get(id) ?? Promise.resolve()).then(write).catch(this.failed)
    this.writing.set(id, done)
    void done.then(() => {
      if (this.writing.get(id) === done) this.writing.delete(id)
    })
    return done
  }

  /** Newest first. */
  async list(): Promise<Former[]> {
    const kept = await this.store.all().catch((error) => {
      this.failed(error)
      return []
    })
    const mine = new Set(this.known.map(({ id }) => id))
    return [...this.known, ...kept.filter(({ id }) => !mine.has(id) && !this.used.has(id))]
      .sort((a, b) => b.atMs - a.atMs)
      .slice(0, MOST)
  }

  /** Once, when the server begins. @returns what its predecessor left half done, in a sentence */
  async news(): Promise<string | null> {
    const [cut] = await this.store.cutShort().catch((error) => {
      this.failed(error)
      return []
    })
    return cut
      ? `The server had to be restarted just as ${cut.what}. Picture, Looks brings back what the cameras were set to before.`
      : null
  }
}
