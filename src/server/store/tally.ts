/** Where a venue's tally comes from, and what was said by hand. */
import { eq } from 'drizzle-orm'
import { NO_TALLY, type TallySettings } from '../../core/tally/sources'
import { NO_SWITCHER } from '../../core/tally/switcher'
import type { Spoken } from '../tally/tally'
import type { Database } from './database'
import { venue } from './schema'

/** What of it makes sense beside these cameras: what belongs to a deleted one is left out. */
export function forCameras(settings: TallySettings | null, cameras: readonly string[]): TallySettings {
  const { sources, byHand, lampsOff, switcher = NO_SWITCHER } = settings ?? NO_TALLY
  const here = new Set(cameras)
  return {
    byHand,
    lampsOff: lampsOff.filter((id) => here.has(id)),
    switcher: {
      ...switcher,
      inputs: Object.fromEntries(Object.entries(switcher.inputs).filter(([id]) => here.has(id))),
    },
    sources: sources.map((source) => ({
      ...source,
      cameras: Object.fromEntries(Object.entries(source.cameras).filter(([, id]) => here.has(id))),
    })),
  }
}

/** What comes from a file: its cameras may have got other ids. @param keep what is here and not in the file stays */
export function imported(
  file: TallySettings,
  ids: ReadonlyMap<string, string>,
  now: TallySettings | null,
  keep: boolean,
): TallySettings {
  const here = (id: string) => ids.get(id) ?? id
  const sources = file.sources.map((source) => ({
    ...source,
    cameras: Object.fromEntries(Object.entries(source.cameras).map(([address, id]) => [address, here(id)])),
  }))
  const inputs = Object.fromEntries(
    Object.entries(file.switcher.inputs).map(([id, input]) => [here(id), input]),
  )
  const switcher = { ...file.switcher, inputs }
  const coming = { ...file, sources, switcher, lampsOff: file.lampsOff.map(here) }
  if (!keep || !now) return coming
  const others = now.sources.filter(({ id }) => !sources.some((source) => source.id === id))
  return {
    byHand: now.byHand || coming.byHand,
    switcher: switcher.enabled ? switcher : (now.switcher ?? NO_SWITCHER),
    sources: [...sources, ...others],
    lampsOff: [...new Set([...now.lampsOff, ...coming.lampsOff])],
  }
}

export async function setTally(db: Database, venueId: string, tally: TallySettings): Promise<void> {
  await db.update(venue).set({ tally }).where(eq(venue.id, venueId))
}

export async function keepSpoken(db: Database, venueId: string, tallySpoken: Spoken): Promise<void> {
  await db.update(venue).set({ tallySpoken }).where(eq(venue.id, venueId))
}
