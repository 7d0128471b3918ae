/**
 * What a camera has made of each question: whether it knows it, ignores it, or only happened not to answer.
 * One refusal may be noise, or a camera that has just been switched on.
 */
import type { InquiryKind } from './inquiries'

const REFUSALS = 3
/** Without an answer so often in a row, while others were answered, it is ignored. */
const MISSES = 6
const MISSES_IF_ANSWERED_BEFORE = 15
/** A question that the camera does not know is tried again after this, ms. */
const UNKNOWN_AGAIN_MS = 60_000
const IGNORED_AGAIN_MS = 10_000
/** A camera that was switched on refuses what it will answer later, ms. */
const WAKES_WITHIN_MS = 25_000

interface Record {
  refusals: number
  misses: number
  answered: boolean
  state: 'open' | 'unknown' | 'ignored'
  askedMs: number
  /** Answers to other questions since it was first missed. */
  others: number
}

const FRESH: Record = {
  refusals: 0,
  misses: 0,
  answered: false,
  state: 'open',
  askedMs: Number.NEGATIVE_INFINITY,
  others: 0,
}

export class Questions {
  private readonly records = new Map<InquiryKind, Record>()
  private asleep = false
  private awakeAtMs = Number.NEGATIVE_INFINITY

  mayAsk(kind: InquiryKind, nowMs: number): boolean {
    const { state, askedMs } = this.of(kind)
    if (state === 'open') return true
    return nowMs - askedMs >= (state === 'unknown' ? UNKNOWN_AGAIN_MS : IGNORED_AGAIN_MS)
  }

  /** Does the camera answer it, as far as is known? */
  knows(kind: InquiryKind): boolean {
    return this.of(kind).state === 'open'
  }

  /** Has it ever been answered? If not, its silence says nothing about the link. */
  isAnswered(kind: InquiryKind): boolean {
    return this.of(kind).answered
  }

  asked(kind: InquiryKind, nowMs: number): void {
    this.of(kind).askedMs = nowMs
  }

  /** @returns whether it was thought not to */
  answered(kind: InquiryKind): boolean {
    const record = this.of(kind)
    const news = record.state !== 'open'
    Object.assign(record, { refusals: 0, misses: 0, others: 0, answered: true, state: 'open' })
    for (const [other, r] of this.records) if (other !== kind && r.misses > 0) r.others += 1
    return news
  }

  /** @returns whether it counts as unknown from now on */
  refused(kind: InquiryKind, nowMs: number): boolean {
    const record = this.of(kind)
    if (this.asleep || nowMs - this.awakeAtMs < WAKES_WITHIN_MS || record.state === 'unknown') return false
    record.refusals += 1
    if (record.refusals < REFUSALS) return false
    record.state = 'unknown'
    return true
  }

  /** No answer came. @returns whether it counts as ignored from now on */
  missed(kind: InquiryKind): boolean {
    const record = this.of(kind)
    record.misses += 1
    const most = record.answered ? MISSES_IF_ANSWERED_BEFORE : MISSES
    if (record.state !== 'open' || record.misses < most || record.others < most) return false
    record.state = 'ignored'
    return true
  }

  /** It told whether it is switched on. */
  power(on: boolean, nowMs: number): void {
    if (on && this.asleep) this.awakeAtMs = nowMs
    this.asleep = !on
  }

  /** Another camera may be there now. */
  forget(): void {
    this.records.clear()
  }

  private of(kind: InquiryKind): Record {
    let record = this.records.get(kind)
    if (!record) {
      record = { ...FRESH }
      this.records.set(kind, record)
    }
    return record
  }
}
