/** Hands shots to the drawing thread. */
import { createRequire } from 'node:module'
import { join } from 'node:path'
import { Worker } from 'node:worker_threads'
import type { Shot } from '../scene/render'
import type { RenderResult } from './renderWorker'

const load = createRequire(__filename)
const FONT_PACKAGE = '@expo-google-fonts/atkinson-hyperlegible-next'
const FONTS = ['400Regular', '700Bold'].map((w) =>
  load.resolve(`${FONT_PACKAGE}/${w}/AtkinsonHyperlegibleNext_${w}.ttf`),
)

/** What draws pictures for the stand-ins. */
export interface Drawing {
  /** @param width of each; several shots come side by side */
  draw(
    shots: readonly Shot[],
    width: number,
    height: number,
    quality: number,
    mix?: number | null,
  ): Promise<Uint8Array>
  close(): Promise<number>
}

export class Renderer implements Drawing {
  private readonly worker: Worker
  private readonly waiting = new Map<number, (jpeg: Uint8Array) => void>()
  private nextId = 1

  constructor() {
    // The thread starts from plain JavaScript that first teaches it to read TypeScript.
    const start = `require(${JSON.stringify(load.resolve('tsx/cjs'))}); require(${JSON.stringify(join(__dirname, 'renderWorker.ts'))})`
    this.worker = new Worker(start, { eval: true, workerData: { fonts: FONTS } })
    this.worker.on('message', ({ id, jpeg }: RenderResult) => {
      this.waiting.get(id)?.(jpeg)
      this.waiting.delete(id)
    })
  }

  draw(
    shots: readonly Shot[],
    width: number,
    height: number,
    quality: number,
    mix: number | null = null,
  ): Promise<Uint8Array> {
    const id = this.nextId++
    return new Promise((resolve) => {
      this.waiting.set(id, resolve)
      this.worker.postMessage({ id, shots, width, height, quality, mix })
    })
  }

  close(): Promise<number> {
    return this.worker.terminate()
  }
}
