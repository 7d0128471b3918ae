/**
 * What is on air and what is next, joined from all sources of a venue. A camera that several sources know is on
 * air if one of them says so; if none does and one of them is not heard, it is unknown. Time is an argument, in
 * milliseconds since 1970.
 */
import { Rhythm } from './rhythm'
import type { Signal } from './signal'
import {
  meaningOf,
  type Said,
  type Tally,
  type TallySettings,
  type TallySource,
  type TallyState,
} from './sources'

/** The two that need no setting up: what programs say by HTTP, and what a hand says. */
export const BY_HTTP = 'http'
export const BY_HAND = 'hand'
export type SpokenBy = typeof BY_HTTP | typeof BY_HAND

interface Known {
  label: string
  program: boolean
  preview: boolean
}

/** Of the packets of one source. */
class Heard {
  readonly rhythm = new Rhythm()
  readonly known = new Map<string, Known>()
  /** Its line or connection is gone, or it never spoke. */
  lost = true

  constructor(public source: TallySource) {}

  /** @returns whether anything is new */
  take(said: Said): boolean {
    const before = this.known.get(said.address)
    const now = { label: '', program: false, preview: false, ...before }
    if (said.label) now.label = said.label
    if (said.program !== undefined) now.program = said.program
    if (said.preview !== undefined) now.preview = said.preview
    let isNew = !before || before.program !== now.program || before.preview !== now.preview
    this.known.set(said.address, now)
    if (said.alone)
      for (const [address, other] of this.known) {
        if (address === said.address) continue
        const bus = said.program ? 'program' : 'preview'
        isNew ||= other[bus]
        other[bus] = false
      }
    return isNew
  }

  forget(): void {
    this.known.clear()
    this.rhythm.restart()
  }

  isSilent(nowMs: number): boolean {
    if (this.lost) return true
    const after = this.silentAfterMs
    return after !== null && nowMs - (this.rhythm.lastHeardMs ?? nowMs) > after
  }

  get silentAfterMs(): number | null {
    const { silentAfterSeconds } = this.source
    return silentAfterSeconds === null ? this.rhythm.silentAfterMs : silentAfterSeconds * 1000
  }

  /** Null where it does not know this camera. */
  stateOf(camera: string, nowMs: number): TallyState | null {
    const mine = Object.entries(this.source.cameras).filter(([, id]) => id === camera)
    if (mine.length === 0) return null
    if (this.isSilent(nowMs)) return 'unknown'
    const known = mine.map(([address]) => this.known.get(address))
    if (known.some((k) => k?.program)) return 'program'
    // It speaks, and has not yet said anything about this one.
    if (known.some((k) => !k)) return 'unknown'
    return known.some((k) => k?.preview) ? 'preview' : 'off'
  }
}

/** An address is kept although no camera has it, so that it can be learnt: but not without end. */
const MOST_ADDRESSES = 4096

const RANK: Record<TallyState, number> = { program: 3, unknown: 2, preview: 1, off: 0 }

export interface SourceView {
  id: string
  name: string
  kind: string
  /** Null where it has none, as a serial line. */
  port: number | null
  lastHeardMs: number | null
  silent: boolean
  silentAfterMs: number | null
  /** What it said of each address. */
  addresses: { address: string; label: string; program: boolean; preview: boolean; camera: string | null }[]
}

export class TallyBoard {
  private heard = new Map<string, Heard>()
  private spoken = new Map<SpokenBy, Map<string, TallyState>>([
    [BY_HTTP, new Map()],
    [BY_HAND, new Map()],
  ])
  private spokenAtMs = new Map<SpokenBy, number>()
  private states = new Map<string, Tally>()
  private cameras: readonly string[] = []

  /** What is known of a source stays, unless its packets mean something else now. */
  configure(settings: TallySettings, cameras: readonly string[], nowMs: number): void {
    const before = this.heard
    this.heard = new Map()
    for (const source of settings.sources.filter(({ enabled }) => enabled)) {
      const kept = before.get(source.id)
      const meaning = (s: TallySource) =>
        JSON.stringify({ ...s, name: '', cameras: {}, silentAfterSeconds: 0 })
      if (kept && meaning(kept.source) === meaning(source)) {
        kept.source = source
        this.heard.set(source.id, kept)
      } else this.heard.set(source.id, new Heard(source))
    }
    if (!settings.byHand) this.spoken.get(BY_HAND)!.clear()
    this.cameras = cameras
    for (const said of this.spoken.values())
      for (const id of said.keys()) if (!cameras.includes(id)) said.delete(id)
    for (const id of this.states.keys()) if (!cameras.includes(id)) this.states.delete(id)
    this.settle(nowMs)
  }

  /** @returns the cameras whose state changed */
  hear(sourceId: string, signals: readonly Signal[], nowMs: number): string[] {
    const heard = this.heard.get(sourceId)
    if (!heard) return []
    const said = signals.flatMap((signal) => meaningOf(heard.source, signal))
    // What means nothing to the source is no sign of its life either.
    if (said.length === 0) return []
    // What it said before a silence may have changed meanwhile.
    if (heard.isSilent(nowMs)) heard.forget()
    heard.lost = false
    for (const one of said) {
      if (!heard.known.has(one.address) && heard.known.size >= MOST_ADDRESSES) continue
      heard.rhythm.hear(one.address, nowMs, heard.take(one))
    }
    return this.settle(nowMs)
  }

  /** Its connection or line is gone: at once nothing is known, and what it said before counts no longer. */
  lose(sourceId: string, nowMs: number): string[] {
    const heard = this.heard.get(sourceId)
    if (!heard || heard.lost) return []
    heard.lost = true
    heard.forget()
    return this.settle(nowMs)
  }

  /** @param state null: it no longer says anything of this camera */
  say(by: SpokenBy, camera: string, state: TallyState | null, nowMs: number): string[] {
    const mine = this.spoken.get(by)!
    if (state === null) mine.delete(camera)
    else mine.set(camera, state)
    this.spokenAtMs.set(by, nowMs)
    return this.settle(nowMs)
  }

  /** Silence is nothing that arrives: it is looked for. */
  settle(nowMs: number): string[] {
    return this.cameras.filter((camera) => this.settleOne(camera, nowMs))
  }

  private settleOne(camera: string, nowMs: number): boolean {
    let state: TallyState = 'off'
    let source: string | null = null
    const consider = (id: string, said: TallyState | null) => {
      if (said === null || (source !== null && RANK[said] <= RANK[state])) return
      state = said
      source = id
    }
    for (const [id, heard] of this.heard) consider(id, heard.stateOf(camera, nowMs))
    for (const [by, said] of this.spoken) consider(by, said.get(camera) ?? null)
    const before = this.states.get(camera)
    if (before?.state === state && before.source === source) return false
    const sinceMs = before?.state === state ? before.sinceMs : nowMs
    this.states.set(camera, { state, sinceMs, source })
    return true
  }

  of(camera: string): Tally | null {
    return this.states.get(camera) ?? null
  }

  /** What hand and programs have said, to be kept. */
  get said(): { by: SpokenBy; camera: string; state: TallyState }[] {
    return [...this.spoken].flatMap(([by, states]) =>
      [...states].map(([camera, state]) => ({ by, camera, state })),
    )
  }

  sources(nowMs: number): SourceView[] {
    const heard = [...this.heard.values()].map((h): SourceView => {
      const { source } = h
      return {
        id: source.id,
        name: source.name,
        kind: source.kind,
        port: 'port' in source ? source.port : null,
        lastHeardMs: h.rhythm.lastHeardMs,
        silent: h.isSilent(nowMs),
        silentAfterMs: h.silentAfterMs,
        addresses: [...h.known].map(([address, known]) => ({
          address,
          ...known,
          camera: source.cameras[address] ?? null,
        })),
      }
    })
    const spoken = [...this.spokenAtMs].map(([by, lastHeardMs]): SourceView => {
      const name = by === BY_HAND ? 'By hand' : 'HTTP'
      return {
        id: by,
        name,
        kind: by,
        port: null,
        lastHeardMs,
        silent: false,
        silentAfterMs: null,
        addresses: [],
      }
    })
    return [...heard, ...spoken]
  }
}
