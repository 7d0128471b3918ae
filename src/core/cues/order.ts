/** The running order: which cue is next, and how the evening stands to the clock. */
import type { CueView } from './show'

/** Those that stand in it, in order. */
export const listed = (cues: readonly CueView[]): CueView[] =>
  cues.filter((cue) => cue.listed).sort((a, b) => a.order - b.order)

/** The cue that Go starts: the one that was chosen, or the first. Null: the order is through, or empty. */
export function nextOf(cues: readonly CueView[], position: string | null | 'end'): CueView | null {
  if (position === 'end') return null
  const order = listed(cues)
  return order.find(({ id }) => id === position) ?? order[0] ?? null
}

/** The place after, or before, a cue; 'end' after the last. */
export function beside(
  cues: readonly CueView[],
  position: string | null | 'end',
  by: 1 | -1,
): string | 'end' | null {
  const order = listed(cues)
  if (order.length === 0) return null
  const at =
    position === 'end'
      ? order.length
      : Math.max(
          0,
          order.findIndex(({ id }) => id === position),
        )
  return order[Math.max(0, at + by)]?.id ?? 'end'
}

/**
 * How late the evening is, in minutes: by the newest cue that has an expected time and was started, and by the next
 * one, which may be overdue. Null: nothing was expected.
 * @param minuteOfDay now, or when that cue was started, in the venue's zone
 */
export function lateBy(expected: string, minuteOfDay: number): number {
  const [hours = 0, minutes = 0] = expected.split(':').map(Number)
  const late = minuteOfDay - (hours * 60 + minutes)
  // An evening may go past midnight.
  return late > 720 ? late - 1440 : late < -720 ? late + 1440 : late
}

export const lateWords = (late: number): string => {
  const whole = Math.round(late)
  if (whole === 0) return 'on time'
  return `${Math.abs(whole)} min ${whole > 0 ? 'behind' : 'ahead'}`
}
