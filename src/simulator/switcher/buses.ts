/** The stand-in switcher's two buses. What is on program is seen; a cut or a fade brings preview there. */

export interface Buses {
  /** Numbers of inputs, from 1. */
  program: number
  preview: number
  /** While a fade runs both are seen. 0..1; null: none runs. */
  fade: number | null
}

export class Switcher {
  private program: number
  private preview: number
  private fading: { fromMs: number; forMs: number } | null = null
  onChange: () => void = () => {}

  constructor(
    readonly inputs: readonly string[],
    start: { program: number; preview: number },
    private readonly now: () => number,
  ) {
    this.program = start.program
    this.preview = start.preview
  }

  get buses(): Buses {
    const { fading } = this
    const fade = fading ? Math.min(1, (this.now() - fading.fromMs) / fading.forMs) : null
    return { program: this.program, preview: this.preview, fade }
  }

  /** @returns false if there is no such input */
  toPreview(input: number): boolean {
    return this.put(input, () => {
      this.preview = input
    })
  }

  toProgram(input: number): boolean {
    return this.put(input, () => {
      this.program = input
    })
  }

  cut(): void {
    this.fading = null
    const { program, preview } = this
    this.program = preview
    this.preview = program
    this.onChange()
  }

  fade(forMs: number): void {
    if (this.fading) return
    this.fading = { fromMs: this.now(), forMs: Math.max(1, forMs) }
    this.onChange()
  }

  /** Called often: a fade ends by itself. */
  tick(): void {
    if (this.buses.fade === 1) this.cut()
  }

  /** What each display shows: in a fade both pictures are on air. */
  lamps(input: number): { program: boolean; preview: boolean } {
    const program = input === this.program || (this.fading !== null && input === this.preview)
    return { program, preview: input === this.preview && this.fading === null }
  }

  private put(input: number, set: () => void): boolean {
    if (!Number.isInteger(input) || input < 1 || input > this.inputs.length) return false
    this.fading = null
    set()
    this.onChange()
    return true
  }
}
