/** How far a camera's mount was turned, from pictures of then and now. */
import { type BumpFound, solveBump } from '../../core/bump/bump'
import type { View } from '../../core/optics/sphere'
import { matchPictures } from './matches'

export interface LookedAgain {
  former: Uint8Array
  today: Uint8Array
  /** How each was taken, by the head's own word. */
  was: View
  now: View
}

/** @returns null where too little was recognised */
export async function bumpFromPictures(looked: LookedAgain[]): Promise<BumpFound | null> {
  const matched = await matchPictures({
    pictures: looked.flatMap(({ former, today }) => [former, today]),
    pairs: looked.map((_, i) => ({ a: 2 * i, b: 2 * i + 1, laid: null })),
  })
  return solveBump(looked.map(({ was, now }, i) => ({ was, now, points: matched[i]?.points ?? [] })))
}
