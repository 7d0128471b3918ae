/** Cues that the clock starts: when each is due, and what was missed. */
import type { ClockStart } from './show'
import { dayAfter, wallTime, whenIs } from './zone'

/** So late a start still counts as being in time, ms: a timer may be a little late, a computer held up. */
export const IN_TIME_MS = 5000

/** The first moment after `sinceMs` at which it is due; null: never again. All ms since 1970. */
export function dueAfter(
  start: Pick<ClockStart, 'date' | 'time'>,
  sinceMs: number,
  zone: string,
): number | null {
  if (start.date !== null) {
    const at = whenIs(start.date, start.time, zone)
    return at > sinceMs ? at : null
  }
  const today = wallTime(sinceMs, zone).date
  for (let [i, date] = [0, today]; i < 3; i++, date = dayAfter(date)) {
    const at = whenIs(date, start.time, zone)
    if (at > sinceMs) return at
  }
  return null
}

export interface DueStart<S> {
  start: S
  dueMs: number
  /** `go`: now; `late`: it was missed and is done all the same; `missed`: it is only told. */
  what: 'go' | 'late' | 'missed'
}

/**
 * What became due in (sinceMs, nowMs]. A daily one that was missed several times counts once, with its newest time.
 * @param held nothing is started, as the order is held
 */
export function dueBetween<S extends ClockStart>(
  starts: readonly S[],
  sinceMs: number,
  nowMs: number,
  zone: string,
  held: boolean,
): DueStart<S>[] {
  const found = starts.flatMap((start): DueStart<S>[] => {
    if (!start.enabled) return []
    let dueMs: number | null = null
    for (
      let at = dueAfter(start, sinceMs, zone);
      at !== null && at <= nowMs;
      at = dueAfter(start, at, zone)
    ) {
      dueMs = at
      if (start.date !== null) break
    }
    if (dueMs === null) return []
    const inTime = nowMs - dueMs <= IN_TIME_MS && !held
    return [{ start, dueMs, what: inTime ? 'go' : start.late && !held ? 'late' : 'missed' }]
  })
  return found.sort((a, b) => a.dueMs - b.dueMs)
}

/** What comes next, and when; null: nothing. */
export function nextStart<S extends ClockStart>(
  starts: readonly S[],
  nowMs: number,
  zone: string,
): { start: S; dueMs: number } | null {
  const coming = starts.flatMap((start) => {
    const dueMs = start.enabled ? dueAfter(start, nowMs, zone) : null
    return dueMs === null ? [] : [{ start, dueMs }]
  })
  return coming.sort((a, b) => a.dueMs - b.dueMs)[0] ?? null
}
