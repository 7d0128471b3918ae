/** A rectangle cut out of another picture, for cameras that have none of their own. */
import type { Rect } from '../../core/cameras/connection'
import type { Jobs } from '../jobs/jobs'
import type { Opener } from './feed'
import type { Feed } from './frame'

export function openCut(whole: Feed, rect: Rect, jobs: Jobs): Opener {
  return (events) => {
    let closed = false
    let busy = false
    const stop = whole.watch(async ({ jpeg }) => {
      if (busy) return
      busy = true
      // A damaged picture is skipped; the age of the last good one goes on rising.
      const part = await jobs.run('cutPicture', { jpeg, rect }).catch(() => null)
      busy = false
      if (!closed && part) events.jpeg(part)
    })
    return () => {
      closed = true
      stop()
    }
  }
}
