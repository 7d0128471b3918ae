/** A head's own menu, simply: lines with words to choose from, walked through by arrows. */
import type { MenuDrawn } from '../scene/menu'

const LINES: readonly { label: string; words: readonly string[] }[] = [
  { label: 'Picture format', words: ['1080 / 50', '1080 / 25', '720 / 50'] },
  { label: 'Flicker', words: ['50 Hz', '60 Hz'] },
  { label: 'Network', words: ['by hand', 'by DHCP'] },
  { label: 'Status lamp', words: ['on', 'off'] },
  { label: 'Close', words: [''] },
]

export class HeadMenu {
  open = false
  private at = 0
  private readonly chosen = LINES.map(() => 0)

  /** @param bytes between header and terminator. @returns false if it is none of its commands */
  obey(bytes: readonly number[]): boolean {
    const text = bytes.map((b) => b.toString(16).padStart(2, '0')).join(' ')
    if (text === '01 06 06 02') this.open = true
    else if (text === '01 06 06 03') this.open = false
    else if (text === '01 06 06 04') this.open = false
    else if (text === '01 7e 01 02 00 01' && this.open) this.enter()
    else return false
    return true
  }

  /** The drive, while it is open. */
  arrow(pan: number, tilt: number): void {
    const count = LINES.length
    if (tilt !== 0) this.at = (this.at - tilt + count) % count
    else if (pan !== 0) this.turn(pan)
  }

  get drawn(): MenuDrawn | null {
    if (!this.open) return null
    const lines = LINES.map(({ label, words }, i) => `${label}   ${words[this.chosen[i]!]}`.trim())
    return { title: 'Camera menu', lines, at: this.at }
  }

  private turn(by: number): void {
    const { words } = LINES[this.at]!
    this.chosen[this.at] = (this.chosen[this.at]! + by + words.length) % words.length
  }

  private enter(): void {
    if (LINES[this.at]!.label === 'Close') this.open = false
    else this.turn(1)
  }
}
