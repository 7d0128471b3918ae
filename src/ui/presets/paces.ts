/** The paces that are offered, and the one that was chosen for the next recall alone. */
import { create } from 'zustand'
import type { Pace } from '../../core/presets/pace'

export interface PaceOption {
  value: string
  label: string
  pace: Pace
}

export const PACE_OPTIONS: readonly PaceOption[] = [
  { value: 'quick', label: 'Quick', pace: { kind: 'quick' } },
  ...[2, 4, 8, 15].map((seconds) => ({
    value: `t${seconds}`,
    label: `${seconds} s`,
    pace: { kind: 'timed' as const, seconds },
  })),
  ...[2, 5, 10].map((deg) => ({
    value: `s${deg}`,
    label: `${deg}°/s`,
    pace: { kind: 'steady' as const, degPerSec: deg },
  })),
]

/** @param none what stands for no pace of its own */
export const paceValue = (pace: Pace | null, none: string): string =>
  PACE_OPTIONS.find((p) => JSON.stringify(p.pace) === JSON.stringify(pace))?.value ?? none

export const paceFor = (value: string): Pace | null =>
  PACE_OPTIONS.find((p) => p.value === value)?.pace ?? null

const usePaceState = create((): { once: Pace | null } => ({ once: null }))

/** @param pace null: each preset's own again */
export const setPaceOnce = (once: Pace | null): void => usePaceState.setState({ once })

/** What was chosen for the next recall; it is used up by this. */
export function takePaceOnce(): Pace | null {
  const { once } = usePaceState.getState()
  if (once) setPaceOnce(null)
  return once
}

export const usePaceOnce = (): Pace | null => usePaceState((state) => state.once)
