/**
 * The wall's time at a venue. The rules of the zones come with the platform (`Intl`), so that daylight saving is right
 * where the law changes.
 */

export interface WallTime {
  /** As `2026-11-28`. */
  date: string
  hours: number
  minutes: number
  seconds: number
}

const MINUTE_MS = 60_000
const DAY_MS = 24 * 60 * MINUTE_MS
/** Of zones, in both directions. */
const MOST_OFFSET_MS = 15 * 60 * MINUTE_MS

const formats = new Map<string, Intl.DateTimeFormat>()
function formatOf(zone: string): Intl.DateTimeFormat {
  const known = formats.get(zone)
  if (known) return known
  const made = new Intl.DateTimeFormat('en-GB', {
    ...{ timeZone: zone, hourCycle: 'h23', year: 'numeric', month: '2-digit', day: '2-digit' },
    ...{ hour: '2-digit', minute: '2-digit', second: '2-digit' },
  })
  formats.set(zone, made)
  return made
}

export function isZone(zone: string): boolean {
  try {
    formatOf(zone)
    return true
  } catch {
    return false
  }
}

/** @param atMs since 1970, UTC @throws RangeError if there is no such zone */
export function wallTime(atMs: number, zone: string): WallTime {
  const parts = Object.fromEntries(
    formatOf(zone)
      .formatToParts(atMs)
      .map(({ type, value }) => [type, value]),
  )
  return {
    date: `${parts.year}-${parts.month}-${parts.day}`,
    ...{ hours: Number(parts.hour), minutes: Number(parts.minute), seconds: Number(parts.second) },
  }
}

export const minuteOfDay = ({ hours, minutes, seconds }: WallTime): number =>
  hours * 60 + minutes + seconds / 60

const asUtc = ({ date, hours, minutes, seconds }: WallTime) =>
  Date.parse(`${date}T00:00:00Z`) + ((hours * 60 + minutes) * 60 + seconds) * 1000

/**
 * When the wall shows this time, ms since 1970. Where the clocks go back and it comes twice, the first is meant; where
 * they go forward and it never comes, the moment at which it is skipped.
 * @param date as `2026-11-28` @param time as `19:30`
 */
export function whenIs(date: string, time: string, zone: string): number {
  const [hours = 0, minutes = 0] = time.split(':').map(Number)
  const wanted = asUtc({ date, hours, minutes, seconds: 0 })
  // The wall never runs backwards but once: look for the first moment at which it shows no less.
  const offsets = new Set(
    [wanted - MOST_OFFSET_MS, wanted + MOST_OFFSET_MS].map((at) => asUtc(wallTime(at, zone)) - at),
  )
  const exact = [...offsets]
    .map((offset) => wanted - offset)
    .filter((at) => asUtc(wallTime(at, zone)) === wanted)
  if (exact.length > 0) return Math.min(...exact)
  // It is skipped: the gap lies between the two guesses.
  const guesses = [...offsets].map((offset) => wanted - offset)
  let [low, high] = [Math.min(...guesses), Math.max(...guesses)]
  while (high - low > 1) {
    const middle = Math.floor((low + high) / 2)
    if (asUtc(wallTime(middle, zone)) >= wanted) high = middle
    else low = middle
  }
  return high
}

/** The day after, as `2026-11-28`. */
export const dayAfter = (date: string): string =>
  new Date(Date.parse(`${date}T00:00:00Z`) + DAY_MS).toISOString().slice(0, 10)
