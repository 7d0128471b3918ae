/** Where the running order stands now, and how far each run is into its cue. */
import { useEffect, useMemo, useRef, useState } from 'react'
import { NOTHING_RUNS, type RunNow, type ShowNow } from '../../core/cues/now'
import { lateBy, lateWords, nextOf } from '../../core/cues/order'
import { minuteOfDay, wallTime } from '../../core/cues/zone'
import { SERVER } from '../../core/facts/facts'
import type { DeskView } from '../../server/api'
import { useFact } from '../live/hooks'

export const useShow = (): ShowNow => useFact('show', SERVER) ?? NOTHING_RUNS

/** The time of this page, again and again while it is wanted. */
function useTick(everyMs: number, on: boolean): number {
  const [nowMs, setNowMs] = useState(() => performance.now())
  useEffect(() => {
    if (!on) return
    const timer = setInterval(() => setNowMs(performance.now()), everyMs)
    return () => clearInterval(timer)
  }, [everyMs, on])
  return nowMs
}

/** How far a run is into its round, s; it goes on between what the server tells. */
export function useInto(run: RunNow | null, held: boolean, everyMs = 100): number {
  const running = run?.state === 'running' && !held
  const nowMs = useTick(everyMs, running)
  const told = useRef({ intoMs: -1, atMs: 0 })
  if (run && run.intoMs !== told.current.intoMs)
    told.current = { intoMs: run.intoMs, atMs: performance.now() }
  if (!run) return 0
  return (run.intoMs + (running ? Math.max(0, nowMs - told.current.atMs) : 0)) / 1000
}

/** How the evening stands to its expected times. */
export function useLate(desk: DeskView, show: ShowNow): string | null {
  const minute = Math.floor(useTick(5000, true) / 5000)
  return useMemo(() => {
    void minute
    const zone = desk.venue.timeZone
    const { cues } = desk.show
    const at = (ms: number) => minuteOfDay(wallTime(ms, zone))
    const next = nextOf(cues, show.position)
    const overdue = next?.expected ? lateBy(next.expected, at(Date.now())) : null
    if (overdue !== null && overdue > 0 && overdue < 240) return lateWords(overdue)
    const last = cues.find(({ id }) => id === show.last?.cue)
    if (!show.last || !last?.expected) return null
    const late = lateBy(last.expected, at(show.last.atMs))
    return Math.abs(late) < 240 ? lateWords(late) : null
  }, [minute, desk, show.position, show.last])
}

/** The time of day at the venue, as `19:30`. */
export const clockText = (ms: number, zone: string): string => {
  const { hours, minutes } = wallTime(ms, zone)
  return `${String(hours).padStart(2, '0')}:${String(minutes).padStart(2, '0')}`
}
