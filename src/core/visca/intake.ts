/**
 * How fast a camera takes packets. Many read one in a picture field and drop what comes sooner, so there is
 * a least gap between any two, stops apart. It is widened where packets that follow another closely go
 * unanswered clearly more often than those that stand alone; a bad network loses both alike. If that
 * changes nothing it was not the gap, and the gap is taken back.
 */

/** Packets closer than this to the one before count as close, ms. */
const CLOSE_MS = 45
const ALONE_MS = 50
/** Two packets may come that much closer together than they were sent. */
const JITTER_MS = 3
/** Wider gaps that are tried in turn, ms: one picture of the slowest camera that is known, and more. */
const WIDER_MS = [35, 50, 60]
const WIDEST_MS = 60
/** The difference of two shares against its own chance spread: this much is hardly chance. */
const CLEARLY = 2.8
/** Looked at after each packet, chance gets as far as that now and then: there it takes this much. */
const SUSPICIOUS = 3.4
/** A network that loses more than this of the packets that stand alone lets a wider gap seem to help by chance. */
const LOSSY = 0.1
const LEAST_SEEN = 8
/** With so much lost while answers still come, whatever the reason, less is sent. */
const TOO_MUCH = 0.5
const MANY = 24
/** Outcomes after which a wider gap must have shown that it helps, to this share of what was lost before. */
const TRIAL = 48
const HELPS = 0.7
/** One that did not help is not tried again for so many outcomes, and longer each time. */
const NOT_AGAIN = 400

/** Outcomes of late: the older ones fade. */
class Share {
  seen = 0
  lost = 0

  add(answered: boolean): void {
    if (this.seen >= 64) {
      this.seen /= 2
      this.lost /= 2
    }
    this.seen += 1
    if (!answered) this.lost += 1
  }

  /** Than a share that was found among as many. */
  clearlyBelow(share: number): boolean {
    const common = (share + this.share) / 2
    return share - this.share > CLEARLY * Math.sqrt((common * (1 - common) * 2) / Math.max(1, this.seen))
  }

  helpsAgainst(share: number): boolean {
    return this.share <= HELPS * share && this.clearlyBelow(share)
  }

  get share(): number {
    return this.seen === 0 ? 0 : this.lost / this.seen
  }
}

/** A wider gap that is being tried. */
interface Trial {
  /** What it was before, and what was lost then. */
  gapMs: number
  lost: number
  left: number
  lossy: boolean
  /** It seemed to help: what it was, and what was lost. Now it is as before again, for comparison. */
  helped: { gapMs: number; all: Share } | null
}

export class Intake {
  private lastMs = Number.NEGATIVE_INFINITY
  private close = new Share()
  private alone = new Share()
  private all = new Share()
  private trial: Trial | null = null
  /** One that followed closely was lost: the next one stands alone. */
  private careful: 'any' | 'order' | null = null
  private pause = 0
  private pauseAfter = NOT_AGAIN

  /**
   * @param gapMs between any two packets but stops, ms; 0 if the camera takes them as they come
   * @param connected nothing is lost on the way: where answers stay away, fewer packets help in any case
   */
  constructor(
    public gapMs: number,
    private readonly connected = false,
  ) {}

  /** When the next packet may go. */
  get readyAtMs(): number {
    if (this.gapMs === 0) return Number.NEGATIVE_INFINITY
    return this.lastMs + JITTER_MS + (this.careful ? Math.max(this.gapMs, ALONE_MS) : this.gapMs)
  }

  /** @returns the time since the packet before, ms */
  sent(nowMs: number, question = false): number {
    const spaced = nowMs - this.lastMs
    this.lastMs = nowMs
    // An order that was lost is what the room is for, and not the questions between.
    if (!(this.careful === 'order' && question)) this.careful = null
    return spaced
  }

  /**
   * @param sure it is known which packet the answer belongs to
   * @returns whether a wider gap has shown that the camera needs it
   */
  outcome(spacedMs: number, answered: boolean, question = false, sure = true): boolean {
    const of = spacedMs < CLOSE_MS ? this.close : this.alone
    if (sure) of.add(answered)
    // Where each second packet is dropped, the same one would be dropped again and again.
    if (!answered && of === this.close) this.careful = question ? (this.careful ?? 'any') : 'order'
    if (!sure) return false
    this.all.add(answered)
    this.pause -= 1
    if (this.trial) return this.judge(this.trial)
    if (this.pause <= 0 && this.gapMs < WIDEST_MS && this.losesTooMuch) this.widen()
    return false
  }

  private get losesTooMuch(): boolean {
    const { close, alone, all } = this
    if (all.seen >= MANY && all.share > TOO_MUCH) return true
    if (close.seen < LEAST_SEEN || alone.seen < LEAST_SEEN / 2) return false
    const common = (close.lost + alone.lost) / (close.seen + alone.seen)
    const spread = Math.sqrt(common * (1 - common) * (1 / close.seen + 1 / alone.seen))
    return close.share - alone.share > (this.connected ? CLEARLY : SUSPICIOUS) * spread
  }

  private widen(): void {
    const lossy = !this.connected && this.alone.seen >= LEAST_SEEN / 2 && this.alone.share > LOSSY
    this.trial = { gapMs: this.gapMs, lost: this.all.share, left: TRIAL, lossy, helped: null }
    this.gapMs = WIDER_MS.find((ms) => ms > this.gapMs + 4) ?? WIDEST_MS
    this.forget()
  }

  private forget(): void {
    this.close = new Share()
    this.alone = new Share()
    this.all = new Share()
  }

  private judge(trial: Trial): boolean {
    trial.left -= 1
    if (trial.left > 0) return false
    this.trial = null
    if (trial.helped) return this.compare(trial, trial.helped)
    if (this.all.helpsAgainst(trial.lost)) {
      if (!trial.lossy) return true
      this.trial = { ...trial, left: TRIAL, helped: { gapMs: this.gapMs, all: this.all } }
      this.gapMs = trial.gapMs
      this.forget()
      return false
    }
    // At the widest nothing else is left to try; before that one step more may be what it needs.
    if (this.gapMs < WIDEST_MS && this.losesTooMuch) {
      this.widen()
      return false
    }
    this.takeBack(trial)
    return false
  }

  private compare(trial: Trial, { gapMs, all }: NonNullable<Trial['helped']>): boolean {
    if (!all.helpsAgainst(this.all.share)) {
      this.takeBack(trial)
      return false
    }
    this.gapMs = gapMs
    this.forget()
    return true
  }

  private takeBack({ gapMs }: Trial): void {
    this.gapMs = gapMs
    this.pause = this.pauseAfter
    this.pauseAfter *= 2
  }
}
