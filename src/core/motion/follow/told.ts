/**
 * What a head was told lately. With it a reading of the past says where the head stands now, and where it will be
 * once what is said now takes effect.
 */
import type { Speeds, Standing } from '../../stick/speeds'

type Turn = Pick<Speeds, 'panDegPerSec' | 'tiltDegPerSec' | 'zoomPerSec'>
const REST: Turn = { panDegPerSec: 0, tiltDegPerSec: 0, zoomPerSec: 0 }
const KEPT_MS = 4000

export class Told {
  private readonly entries: { atMs: number; turn: Turn }[] = []

  tell({ panDegPerSec, tiltDegPerSec, zoomPerSec }: Turn, atMs: number): void {
    this.entries.push({ atMs, turn: { panDegPerSec, tiltDegPerSec, zoomPerSec } })
    // The one before the oldest that matters still says what ran at its beginning.
    while (this.entries.length > 2 && this.entries[1]!.atMs < atMs - KEPT_MS) this.entries.shift()
  }

  /** Something else moves it: what it was told counts no longer. */
  forget(atMs: number): void {
    this.entries.length = 0
    this.entries.push({ atMs, turn: REST })
  }

  /** How far it was told to go between two moments. */
  between(fromMs: number, toMs: number): Standing {
    const way = { panDeg: 0, tiltDeg: 0, zoom: 0 }
    for (const [i, { atMs, turn }] of this.entries.entries()) {
      const begin = Math.max(fromMs, atMs)
      const end = Math.min(toMs, this.entries[i + 1]?.atMs ?? toMs)
      if (end <= begin) continue
      const seconds = (end - begin) / 1000
      way.panDeg += turn.panDegPerSec * seconds
      way.tiltDeg += turn.tiltDegPerSec * seconds
      way.zoom += turn.zoomPerSec * seconds
    }
    return way
  }

  /** What an axis was told between two moments, piece by piece. */
  pieces(axis: keyof Turn, fromMs: number, toMs: number): { speed: number; seconds: number }[] {
    return this.entries.flatMap(({ atMs, turn }, i) => {
      const begin = Math.max(fromMs, atMs)
      const end = Math.min(toMs, this.entries[i + 1]?.atMs ?? toMs)
      return end > begin ? [{ speed: turn[axis], seconds: (end - begin) / 1000 }] : []
    })
  }
}
