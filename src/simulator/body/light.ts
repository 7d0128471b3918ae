/**
 * The light before a stand-in's lens, and what its sensor makes of it. Exposure is in stops, colour as the strength
 * of red and blue beside green, in linear light; a picture of nothing but ones is as the barn is drawn.
 */

/** What the barn is drawn for. */
export const LAMPS_KELVIN = 3200

export interface SceneLight {
  /** As the lamps of the barn at full: 1. */
  stops: number
  kelvin: number
}

export interface Colour {
  red: number
  blue: number
}

/** How light of a colour temperature falls on red and blue, beside the lamps of the barn. */
export const colourOf = (kelvin: number): Colour => ({
  red: (LAMPS_KELVIN / kelvin) ** 0.7,
  blue: (kelvin / LAMPS_KELVIN) ** 1.1,
})

export const times = (a: Colour, b: Colour): Colour => ({ red: a.red * b.red, blue: a.blue * b.blue })
export const over = (a: Colour, b: Colour): Colour => ({ red: a.red / b.red, blue: a.blue / b.blue })

/** Follows a goal as an automatic does: it waits until it is sure, then closes the gap bit by bit. */
export class Automatic<T extends Record<string, number>> {
  private waitedS = 0

  constructor(
    public at: T,
    private readonly waitS: number,
    private readonly closesInS: number,
    /** Differences below this are left alone. */
    private readonly content: number,
  ) {}

  advance(seconds: number, goal: T): void {
    const keys = Object.keys(goal) as (keyof T)[]
    const far = Math.max(...keys.map((key) => Math.abs(goal[key]! - this.at[key]!)))
    if (far <= this.content) {
      this.waitedS = 0
      return
    }
    this.waitedS += seconds
    if (this.waitedS < this.waitS) return
    const share = 1 - Math.exp(-seconds / this.closesInS)
    const next = keys.map((key) => [key, this.at[key]! + (goal[key]! - this.at[key]!) * share])
    this.at = Object.fromEntries(next) as T
  }
}
