/** The thread that draws: takes shots, gives JPEGs back. Protocols never wait for it. */
import { setPriority } from 'node:os'
import { parentPort, workerData } from 'node:worker_threads'
import { registerFonts, renderShots, type Shot } from '../scene/render'

export interface RenderJob {
  id: number
  shots: readonly Shot[]
  width: number
  height: number
  quality: number
  mix: number | null
}
export interface RenderResult {
  id: number
  jpeg: Uint8Array
}

// This thread alone: what speaks a protocol, here or in the server, comes first.
setPriority(15)
registerFonts((workerData as { fonts: string[] }).fonts)
parentPort?.on('message', (job: RenderJob) => {
  const jpeg = new Uint8Array(renderShots(job.shots, job.width, job.height, job.quality, job.mix))
  parentPort?.postMessage({ id: job.id, jpeg } satisfies RenderResult, [jpeg.buffer])
})
