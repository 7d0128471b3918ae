/** A camera as its operator sees it; made anew only when what it follows from has changed. */
import { type Sight, type SightOf, sightOf } from '../../core/optics/sight'

export class KeptSight {
  private last: { of: SightOf; sight: Sight } | null = null

  get(of: SightOf): Sight {
    const known = this.last?.of
    const same =
      known && known.mount === of.mount && known.limits === of.limits && known.digital === of.digital
    if (!same || !this.last) this.last = { of, sight: sightOf(of) }
    return this.last.sight
  }
}
