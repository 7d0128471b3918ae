/**
 * Pictures that are drawn once and then shown again and again: with these a measurement is of the desk, and
 * not of how fast the barn is drawn. What is seen is not what the head looks at.
 */
import type { Shot } from '../scene/render'
import type { Drawing } from './renderer'

/** This many of each size, so that no two in a row are the same. */
const KEPT = 12

export class DrawnBefore implements Drawing {
  private readonly kept = new Map<string, { pictures: Promise<Uint8Array>[]; next: number }>()

  constructor(private readonly drawing: Drawing) {}

  draw(shots: readonly Shot[], width: number, height: number, quality: number): Promise<Uint8Array> {
    const key = `${shots.length} ${width} ${height} ${quality}`
    const loop = this.kept.get(key) ?? { pictures: [], next: 0 }
    this.kept.set(key, loop)
    if (loop.pictures.length < KEPT) {
      loop.pictures.push(this.drawing.draw(shots, width, height, quality))
      return loop.pictures.at(-1)!
    }
    loop.next = (loop.next + 1) % KEPT
    return loop.pictures[loop.next]!
  }

  close(): Promise<number> {
    return this.drawing.close()
  }
}
