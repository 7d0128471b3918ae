/** A rectangle cut out of another picture, for cameras that have none of their own. */
import type { Rect } from '../../core/cameras/connection'
import type { Jobs } from '../jobs/jobs'
import type { Opener } from './feed'
import type { Feed } from './frame'

export function openCut(whole: Feed, rect: Rect, jobs: Jobs): Opener {
  return (events) => {
    let closed = false
    let busy = false
    let last: { number: number; part: Uint8Array } | null = null
    const stop = whole.watch(async ({ jpeg, number }) => {
      if (busy) return
      // The same again is cut as before.
      if (last?.number === number) return events.jpeg(last.part)
      busy = true
      // A damaged picture is skipped; the age of the last good one keeps rising.
      const part = await jobs.run('cutPicture', { jpeg, rect }).catch(() => null)
      busy = false
      if (part) last = { number, part }
      if (!closed && part) events.jpeg(part)
    })
    return () => {
      closed = true
      stop()
    }
  }
}
