/**
 * The second half of a match: saturation, gamma and tint, which follow no simple law from camera to camera. One
 * after the other is turned while the difference falls, by smaller and smaller steps. No I/O.
 */
import type { SettingSpec } from './settings'
import { stepped, stepsOf } from './units'

type Range = Extract<SettingSpec, { kind: 'range' }>

/** The first step, as a part of the range. */
const FIRST = 0.15
/** A difference of CIEDE2000 below which a change is noise. */
const NOISE = 0.03

interface Trial {
  spec: Range
  /** Where it was best, and how far off that was. */
  value: number
  off: number
  steps: number
  direction: 1 | -1
  /** The other direction was tried with this step. */
  turned: boolean
}

export class FineMatch {
  private readonly left: Range[]
  private trial: Trial | null = null
  /** Something became better. */
  improved = false

  constructor(
    specs: readonly Range[],
    private readonly at: (spec: Range) => number,
  ) {
    this.left = [...specs]
  }

  /** @param off CIEDE2000 with what was set last @returns the next to set; null: none makes it better */
  next(off: number): { key: string; value: number } | null {
    const { trial } = this
    if (trial) {
      const now = this.at(trial.spec)
      if (now !== trial.value && off < trial.off - NOISE) {
        Object.assign(trial, { value: now, off, turned: true })
        this.improved = true
      } else if (now !== trial.value) this.turnBack(trial)
      const next = this.onwards(trial)
      if (next !== null) return next
      this.trial = null
      // It stands where it was tried last, which need not be its best.
      if (now !== trial.value) return { key: trial.spec.key, value: trial.value }
    }
    const spec = this.left.shift()
    if (!spec) return null
    const steps = Math.max(1, Math.round(stepsOf(spec) * FIRST))
    this.trial = { spec, value: this.at(spec), off, steps, direction: 1, turned: false }
    return this.onwards(this.trial) ?? this.next(off)
  }

  private turnBack(trial: Trial): void {
    if (trial.turned) {
      trial.steps = Math.floor(trial.steps / 2)
      trial.turned = false
    } else trial.turned = true
    trial.direction = trial.direction === 1 ? -1 : 1
  }

  private onwards(trial: Trial): { key: string; value: number } | null {
    while (trial.steps >= 1) {
      const value = stepped(trial.spec, trial.value, trial.steps * trial.direction)
      if (value !== trial.value) return { key: trial.spec.key, value }
      this.turnBack(trial)
    }
    return null
  }
}
