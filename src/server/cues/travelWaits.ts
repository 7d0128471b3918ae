/** Waits until recalls have come to their ends, as the facts tell. */
import type { Facts } from '../facts/facts'

export interface Outcome {
  ok: boolean
  why?: string | null
  /** It was done in another way than it was asked. */
  said?: string | null
}

const ENDS = {
  arrived: { ok: true },
  sent: { ok: true },
  failed: { ok: false },
  interrupted: { ok: false, why: 'Something else moved the camera.' },
} as const

interface Waiting {
  presetId: string
  done(outcome: Outcome): void
}

export class TravelWaits {
  private readonly waiting = new Map<string, Set<Waiting>>()

  constructor(facts: Pick<Facts, 'listen'>) {
    facts.listen((all) => {
      for (const { kind, about, value } of all) {
        if (kind !== 'travel') continue
        const travel = value
        for (const one of [...(this.waiting.get(about) ?? [])]) {
          const other = travel !== null && travel.presetId !== one.presetId
          if (travel === null || other) one.done(ENDS.interrupted)
          else if (travel.state !== 'travelling') {
            const end: Outcome = ENDS[travel.state]
            one.done(travel.reason === null ? end : { ...end, why: travel.reason })
          }
        }
      }
    })
  }

  /** From now on. @returns what came of it, and how to stop waiting */
  wait(camera: string, presetId: string): { over: Promise<Outcome>; cancel(): void } {
    const mine = this.waiting.get(camera) ?? new Set()
    this.waiting.set(camera, mine)
    let one: Waiting
    const cancel = () => {
      mine.delete(one)
      if (mine.size === 0 && this.waiting.get(camera) === mine) this.waiting.delete(camera)
    }
    const over = new Promise<Outcome>((resolve) => {
      one = {
        presetId,
        done(outcome) {
          cancel()
          resolve(outcome)
        },
      }
      mine.add(one)
    })
    return { over, cancel }
  }
}
