/**
 * What a camera or a multiviewer shows, as JPEG. It is redrawn when the camera sees something else.
 * While only people move a little, a picture is good for a while: so a head that moves has the time to
 * be drawn at its full rate.
 */
import type { Shot } from '../scene/render'
import type { Drawing } from './renderer'

const GOOD_FOR_MS = 330
const QUALITY = 84

export class Sight {
  private last: { seen: string; atMs: number; jpeg: Promise<Uint8Array> } | null = null

  /** @param size of each shot, pixels; several come side by side */
  constructor(
    private readonly renderer: Pick<Drawing, 'draw'>,
    private readonly shots: () => readonly Shot[],
    private readonly size: { width: number; height: number },
    private readonly now: () => number = () => performance.now(),
    /** 0..1: the second over the first; null: side by side. */
    private readonly mix: () => number | null = () => null,
  ) {}

  /** The same object as before where nothing was redrawn. */
  draw = (): Promise<Uint8Array> => {
    const shots = this.shots()
    const mix = this.mix()
    const seen = JSON.stringify([mix, ...shots.map((shot) => ({ ...shot, atS: 0 }))])
    const nowMs = this.now()
    if (this.last?.seen === seen && nowMs - this.last.atMs < GOOD_FOR_MS) return this.last.jpeg
    const jpeg = this.renderer.draw(shots, this.size.width, this.size.height, QUALITY, mix)
    this.last = { seen, atMs: nowMs, jpeg }
    return jpeg
  }
}
