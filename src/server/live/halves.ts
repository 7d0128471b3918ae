/** Pictures at half their size for viewers over a slow way: made once for all of them, and only while one looks. */
import type { Jobs } from '../jobs/jobs'
import type { Frame } from '../video/frame'

/** @returns the half of a picture; the whole where it cannot be made now */
export type Halves = (frame: Frame) => Promise<Uint8Array>

export function makeHalves(jobs: Pick<Jobs, 'run'>): Halves {
  const made = new WeakMap<Uint8Array, Promise<Uint8Array>>()
  return ({ jpeg }) => {
    const known = made.get(jpeg)
    if (known) return known
    const making = jobs.run('halfPicture', jpeg).then(
      (half) => half ?? jpeg,
      // The thread has more to do than this.
      () => jpeg,
    )
    made.set(jpeg, making)
    return making
  }
}
