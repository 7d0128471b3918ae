/** The tally of the open venue: listens, joins, tells every page, and lights the cameras' lamps. */
import { type SourceView, type SpokenBy, TallyBoard } from '../../core/tally/board'
import { NO_TALLY, type Tally, type TallySettings, type TallyState } from '../../core/tally/sources'
import type { Clock } from '../cameras/clock'
import type { Lamps } from './lamps'
import { TallyListeners } from './listeners'

/** What was said by hand and by programs, over a restart. */
export type Spoken = { by: SpokenBy; camera: string; state: TallyState }[]

export interface TallyNeeds {
  clock: Clock
  /** A steady clock, ms since 1970. */
  wallMs(): number
  tell(camera: string, tally: Tally | null): void
  lamps: Lamps
  /** Kept for the next start. */
  keep(spoken: Spoken): void
  notice(text: string): void
}

/** Silence is looked for so often, ms. */
const LOOK_MS = 200

export interface TallySourceView extends SourceView {
  /** Why it cannot listen. */
  trouble: string | null
}

export class TallyDesk {
  private readonly board = new TallyBoard()
  private readonly listeners: TallyListeners
  private readonly troubles = new Map<string, string>()
  private cameras: readonly string[] = []
  private settings: TallySettings = NO_TALLY
  private wasSilent = new Set<string>()
  private stop: (() => void) | null = null

  constructor(private readonly needs: TallyNeeds) {
    this.listeners = new TallyListeners({
      heard: (source, signals) => this.tell(this.board.hear(source, signals, needs.wallMs())),
      lost: (source) => this.tell(this.board.lose(source, needs.wallMs())),
      trouble: (source, text) => {
        if (text === null) this.troubles.delete(source)
        else this.troubles.set(source, text)
      },
    })
    const look = () => {
      this.tell(this.board.settle(needs.wallMs()))
      this.sayWhoIsSilent()
      this.stop = needs.clock.after(LOOK_MS, look)
    }
    look()
  }

  /** @param spoken of an earlier server; what programs said may have changed since */
  restore(spoken: Spoken): void {
    for (const { by, camera, state } of spoken)
      this.board.say(by, camera, by === 'http' ? 'unknown' : state, this.needs.wallMs())
  }

  configure(settings: TallySettings, cameras: readonly string[]): void {
    const gone = this.cameras.filter((id) => !cameras.includes(id))
    const known = new Set(this.cameras)
    this.settings = settings
    this.cameras = cameras
    this.needs.lamps.configure(settings.lampsOff)
    this.board.configure(settings, cameras, this.needs.wallMs())
    this.listeners.configure(settings.sources)
    for (const id of gone) this.needs.lamps.forget(id)
    this.tell(cameras.filter((id) => !known.has(id) || this.board.of(id) !== null))
  }

  say(by: SpokenBy, camera: string, state: TallyState | null, alone: boolean): void {
    const now = this.needs.wallMs()
    const others = alone
      ? this.board.said.filter((s) => s.by === by && s.camera !== camera && s.state === state)
      : []
    const changed = [
      ...this.board.say(by, camera, state, now),
      ...others.flatMap((s) => this.board.say(by, s.camera, 'off', now)),
    ]
    this.tell(changed)
    this.needs.keep(this.board.said)
  }

  of(camera: string): Tally | null {
    return this.board.of(camera)
  }

  get byHand(): boolean {
    return this.settings.byHand
  }

  get sources(): TallySourceView[] {
    return this.board
      .sources(this.needs.wallMs())
      .map((source) => ({ ...source, trouble: this.troubles.get(source.id) ?? null }))
  }

  close(): void {
    this.stop?.()
    this.listeners.close()
  }

  private tell(cameras: readonly string[]): void {
    for (const id of new Set(cameras)) {
      const tally = this.board.of(id)
      this.needs.tell(id, tally)
      if (tally) this.needs.lamps.show(id, tally.state)
    }
  }

  private sayWhoIsSilent(): void {
    const silent = this.board.sources(this.needs.wallMs()).filter((s) => s.silent && s.lastHeardMs !== null)
    for (const { id, name } of silent)
      if (!this.wasSilent.has(id))
        this.needs.notice(
          `The tally source “${name}” has fallen silent. Its cameras are treated as on air until it is heard again.`,
        )
    this.wasSilent = new Set(silent.map(({ id }) => id))
  }
}
