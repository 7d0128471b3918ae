/** A preset that was stored from a survey gets a picture of its own as soon as its camera has arrived there. */

import type { Clock } from '../cameras/clock'
import type { Facts } from '../facts/facts'
import type { Fleet } from '../fleet'
import { log } from '../log'
import type { Catalogue, Changed } from '../store/catalogue'
import type { Database } from '../store/database'
import { retake } from './retake'
import { PICTURE_SETTLES_MS, wait } from './roundWork'

export interface FirstVisitsDeps {
  db: Database
  clock: Clock
  facts: Pick<Facts, 'listen'>
  catalogue: Pick<Catalogue, 'preset'>
  fleet: () => Pick<Fleet, 'get'>
  changed(what: Changed): Promise<void>
}

export function keepFirstVisits({ db, clock, facts, catalogue, fleet, changed }: FirstVisitsDeps): void {
  const visiting = new Set<string>()
  const visit = async (id: string, camera: string) => {
    await wait(clock, PICTURE_SETTLES_MS)
    const [preset, member] = [catalogue.preset(id), fleet().get(camera)]
    if (!preset?.surveyed || !member) return
    // One that moved on meanwhile keeps the survey's picture until the next visit.
    if ((await retake(db, member, preset)) === null) await changed({ presets: [id] })
  }
  facts.listen((all) => {
    for (const { kind, about, value } of all) {
      if (kind !== 'travel' || value?.state !== 'arrived') continue
      const id = value.presetId
      if (visiting.has(id) || !catalogue.preset(id)?.surveyed) continue
      visiting.add(id)
      void visit(id, about)
        .catch((error) => log.error({ err: error }, 'a first visit failed'))
        .finally(() => visiting.delete(id))
    }
  })
}
