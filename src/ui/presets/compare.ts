/** Compares pictures in a worker, of which the page has one. */
import type { Finding } from '../../core/image/register'

interface Answer {
  id: number
  finding: Finding
  ms: number
}

let worker: Worker | null = null
let newest = 0
const waiting = new Map<number, (finding: Finding) => void>()

/** Starts the worker where it does not run yet, so that the first comparison need not wait for it. */
export function readyToCompare(): Worker {
  if (worker) return worker
  worker = new Worker(new URL('../workers/trust.ts', window.location.href))
  worker.onmessage = ({ data: { id, finding, ms } }: MessageEvent<Answer>) => {
    performance.measure('trust check', { end: performance.now(), duration: ms })
    waiting.get(id)?.(finding)
    waiting.delete(id)
  }
  return worker
}

/** Both are used up by this. */
export function compare(before: ImageBitmap, after: ImageBitmap): Promise<Finding> {
  const id = ++newest
  return new Promise((resolve) => {
    waiting.set(id, resolve)
    readyToCompare().postMessage({ id, before, after }, [before, after])
  })
}
