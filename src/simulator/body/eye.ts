/**
 * What is behind the lens of a stand-in: every setting of its picture as the wire has it, what its automatics make
 * of the light, and what the picture becomes by all of that.
 */
import type { NamedControl } from '../../core/heads/namedControls'
import { settingOf } from '../../core/heads/namedControls'
import { BRING_FILE, KEEP_FILE, RECORDING, type SettingSpec } from '../../core/picture/settings'
import { amountOf } from '../../core/picture/units'
import { Automatic, type Colour, colourOf, LAMPS_KELVIN, over, type SceneLight, times } from './light'

const MODE = { auto: 0x00, manual: 0x03, shutter: 0x0a, iris: 0x0b, bright: 0x0d } as const
const WHITE = { auto: 0, indoor: 1, outdoor: 2, onePush: 3, manual: 5, kelvin: 32 } as const
/** What the barn is drawn for: f/2.8, 1/50, 6 dB. */
const USUAL = { iris: 2.8, shutter: 1 / 50, gain: 6 } as const
/** Where a head has no scale of its own. */
const BARE = { iris: 0.5, shutter: -0.5, gain: 0.5 } as const
const START: Readonly<Record<string, number>> = {
  exposureMode: MODE.auto,
  whiteBalance: WHITE.auto,
  redGain: 128,
  blueGain: 128,
  shutter: 2,
  iris: 13,
  gain: 9,
  bright: 16,
  gainLimit: 12,
  nearLimit: 0xc000,
}
/** The gains' middle stands for light of this colour. */
const GAINS_KELVIN = 4300
const KELVIN = { [WHITE.indoor]: 3200, [WHITE.outdoor]: 5600 } as Readonly<Record<number, number>>
/** What an automatic leaves of the sensor's own cast. */
const LEFT = 0.45
const STEP_S = 0.1

/** How the picture departs from the barn as it is drawn. */
export interface Tint extends Colour {
  stops: number
  /** 1 for as drawn. */
  saturation: number
  contrast: number
  /** Added to the picture's light, -1..1. */
  lift: number
  hueDeg: number
  gamma: number
  mirror: boolean
  flip: boolean
}

export class Eye {
  frozen = false
  /** Called when the picture is held, and when it runs again. */
  onFreeze: (frozen: boolean) => void = () => {}
  /** Called when a setting makes the camera start anew. */
  onRestart: () => void = () => {}
  /** What falls on the sensor; the barn in full light until told otherwise. */
  scene: () => SceneLight = () => ({ stops: 0, kelvin: LAMPS_KELVIN })
  private readonly wire: Record<string, number>
  /** What is kept in its own files, by number. */
  private readonly files = new Map<number, Record<string, number>>()
  /** Of those that have one in the trade's unit. */
  private readonly scales = new Map<string, Extract<SettingSpec, { kind: 'range' }>>()
  private readonly exposes = new Automatic({ stops: 0 }, 0.25, 0.35, 0.04)
  private readonly whitens: Automatic<{ red: number; blue: number }>
  /** What one push has measured. */
  private measured: Colour
  private light: SceneLight = { stops: 0, kelvin: LAMPS_KELVIN }
  private pendingS = 0

  /** @param cast what its sensor makes of grey */
  constructor(
    private readonly controls: readonly NamedControl[],
    readonly cast: Colour = { red: 1, blue: 1 },
  ) {
    for (const control of controls) {
      const spec = settingOf(control, controls)
      if (spec?.kind === 'range' && spec.marks.length > 0) this.scales.set(control.key, spec)
    }
    this.wire = { ...START }
    for (const control of controls)
      if (!(control.key in START) && control.kind !== 'act')
        this.wire[control.key] = control.usual ?? (control.kind === 'range' ? control.min : 0)
    this.measured = this.neutral(LAMPS_KELVIN)
    this.whitens = new Automatic(this.neutral(LAMPS_KELVIN), 0.4, 0.8, 0.01)
  }

  freeze(on: boolean): void {
    if (on === this.frozen) return
    this.frozen = on
    this.onFreeze(on)
  }

  /** All that is set, as the wire has it. */
  get levels(): Readonly<Record<string, number>> {
    return { ...this.wire }
  }

  /** As the wire has it; in an automatic mode what it has chosen. */
  level(key: string): number {
    const chosen = this.byHand(key) ? undefined : this.chosen()[key]
    return chosen ?? this.wire[key] ?? 0
  }

  /** False where the mode sets it by itself, or there is no such value. */
  set(key: string, value: number): boolean {
    const control = this.controls.find((c) => c.key === key)
    if (!control || !this.byHand(key)) return false
    if (control.kind === 'range' && (value < control.min || value > control.max)) return false
    if (control.kind === 'choice' && !control.options.some((option) => option.value === value)) return false
    if (control.kind === 'act') {
      if (key === 'measureWhite') this.measured = this.gains()
      return true
    }
    if (key === KEEP_FILE) this.files.set(value, { ...this.wire })
    if (key === BRING_FILE) {
      const file = this.files.get(value)
      if (!file) return false
      for (const { key: one, group, restarts } of this.controls)
        if (group !== 'lens' && !restarts && one !== RECORDING && one in file) this.wire[one] = file[one]!
      return true
    }
    const anew = control.restarts && this.wire[key] !== value
    this.wire[key] = value
    if (anew) this.onRestart()
    return true
  }

  advance(seconds: number): void {
    this.pendingS += seconds
    if (this.pendingS < STEP_S) return
    // After a long pause everything has settled.
    for (let left = Math.min(this.pendingS, 8); left > 0; left -= STEP_S) {
      this.light = this.scene()
      this.exposes.advance(STEP_S, { stops: this.wanted() })
      this.whitens.advance(STEP_S, this.gains())
    }
    this.pendingS = 0
  }

  get tint(): Tint {
    const { wire } = this
    const white = times(times(colourOf(this.light.kelvin), this.cast), this.correction())
    const around = (key: string) => (this.has(key) ? (wire[key]! - 7) / 7 : 0)
    return {
      stops: Math.round((this.light.stops + this.stops()) * 50) / 50,
      red: Math.round(white.red * 500) / 500,
      blue: Math.round(white.blue * 500) / 500,
      saturation: 1 + around('saturation') * 0.9,
      contrast: 1 + around('contrast') * 0.5,
      lift: around('brightness') * 0.25,
      hueDeg: around('hue') * 30,
      gamma: this.has('gamma') ? 1 + wire.gamma! * 0.12 : 1,
      mirror: wire.mirror === 1,
      flip: wire.flip === 1,
    }
  }

  /** Noise of the sensor, 0..1, of one that has so much at the usual gain. */
  grain(usual: number): number {
    const db = this.amount('gain', this.level('gain')) ?? USUAL.gain
    const calmed = this.has('noiseReduction') ? 1.3 - 0.1 * this.wire.noiseReduction! : 1
    return Math.round(100 * Math.min(0.85, (usual + 0.012 * Math.max(0, db - 9)) * calmed)) / 100
  }

  /** How much it softens, pixels of a 640 wide picture. */
  get soft(): number {
    return this.has('sharpness') ? Math.max(0, 7 - this.wire.sharpness!) * 0.3 : 0
  }

  private has(key: string): boolean {
    return this.controls.some((c) => c.key === key)
  }

  private byHand(key: string): boolean {
    const control = this.controls.find((c) => c.key === key)
    return control?.needs.every((need) => need.values.includes(this.wire[need.key] ?? 0)) ?? false
  }

  /** In the trade's unit, where this head has one. */
  private amount(key: string, value: number): number | null {
    const spec = this.scales.get(key)
    return spec ? amountOf(spec, value) : null
  }

  /** What one of them does to the exposure, stops. */
  private stopsBy(key: 'iris' | 'shutter' | 'gain', value: number): number {
    const amount = this.amount(key, value)
    if (amount === null) return (value - START[key]!) * BARE[key]
    if (key === 'iris') return amount === 0 ? -12 : 2 * Math.log2(USUAL.iris / amount)
    return key === 'gain' ? (amount - USUAL.gain) / 6.02 : Math.log2(amount / USUAL.shutter)
  }

  private get ndStops(): number {
    return this.has('nd') ? (this.amount('nd', this.wire.nd!) ?? this.wire.nd!) : 0
  }

  /** All that is between the light and the picture, stops. */
  private stops(): number {
    const mode = this.wire.exposureMode
    const level = this.wire
    if (mode === MODE.bright) return (level.bright! - START.bright!) / 3 - this.ndStops
    if (mode === MODE.manual) return this.hand('iris', 'shutter', 'gain') - this.ndStops
    return this.exposes.at.stops - this.ndStops
  }

  /** As far as the automatic turns the gain up, as the wire has it. */
  private get gainMost(): number {
    const control = this.controls.find((c) => c.key === 'gain')
    const most = control?.kind === 'range' ? control.max : 15
    const limit = this.has('gainLimit') ? this.amount('gainLimit', this.wire.gainLimit!) : null
    for (let value = most; limit !== null && value > 0; value--)
      if ((this.amount('gain', value) ?? 0) <= limit) return value
    return limit === null ? Math.min(most, 33) : most
  }

  private hand(...keys: ('iris' | 'shutter' | 'gain')[]): number {
    return keys.reduce((sum, key) => sum + this.stopsBy(key, this.wire[key]!), 0)
  }

  /** What the automatic aims for, as far as it reaches. */
  private wanted(): number {
    const { wire } = this
    const by = wire.compensationOn === 1 ? ((wire.compensation ?? 7) - 7) / 3 : 0
    const against = wire.backlight === 1 ? 0.7 : 0
    const goal = -this.light.stops + this.ndStops + by + against
    const [least, most] = this.reach()
    return Math.min(most, Math.max(least, goal))
  }

  private reach(): [number, number] {
    const { wire } = this
    const gainMost = this.stopsBy('gain', this.gainMost)
    const slow = wire.slowShutter === 1 ? 1 : 0
    const open = this.stopsBy('iris', 17)
    if (wire.exposureMode === MODE.shutter) {
      const at = this.hand('shutter')
      return [at - 7, at + open + gainMost]
    }
    if (wire.exposureMode === MODE.iris) {
      const at = this.hand('iris')
      return [at - 8, at + gainMost + slow]
    }
    return [-10, open + gainMost + slow]
  }

  /** What the automatic has chosen, as its levels: the iris first, then gain, then the shutter. */
  private chosen(): Record<string, number> {
    const { wire } = this
    if (wire.exposureMode === MODE.manual) return {}
    let left = this.exposes.at.stops
    const out: Record<string, number> = {}
    const take = (key: 'iris' | 'shutter' | 'gain', values: number[]) => {
      let best = values[0]!
      for (const value of values)
        if (Math.abs(this.stopsBy(key, value) - left) < Math.abs(this.stopsBy(key, best) - left)) best = value
      out[key] = best
      left -= this.stopsBy(key, best)
    }
    const upTo = (least: number, most: number) =>
      Array.from({ length: most - least + 1 }, (_, i) => least + i)
    if (wire.exposureMode === MODE.shutter) left -= this.hand('shutter')
    if (wire.exposureMode === MODE.iris) left -= this.hand('iris')
    else take('iris', upTo(4, 17))
    take('gain', upTo(0, this.gainMost))
    if (wire.exposureMode !== MODE.shutter) take('shutter', upTo(2, 21))
    return out
  }

  /** Gains that would make grey of what it sees now. */
  private gains(): Colour {
    return over({ red: 1, blue: 1 }, times(colourOf(this.light.kelvin), this.cast))
  }

  private neutral(kelvin: number): { red: number; blue: number } {
    return over({ red: 1, blue: 1 }, times(colourOf(kelvin), this.cast))
  }

  /** An automatic that is content with less than all of it. */
  private guessed({ red, blue }: Colour): Colour {
    return { red: red * this.cast.red ** LEFT, blue: blue * this.cast.blue ** LEFT }
  }

  private correction(): Colour {
    const { wire } = this
    const one = { red: 1, blue: 1 }
    switch (wire.whiteBalance) {
      case WHITE.manual: {
        const gain = (code: number) => 2 ** ((code - 128) / 64)
        return times(over(one, colourOf(GAINS_KELVIN)), {
          red: gain(wire.redGain!),
          blue: gain(wire.blueGain!),
        })
      }
      case WHITE.onePush:
        return this.measured
      case WHITE.kelvin:
        return over(one, colourOf(this.amount('kelvin', wire.kelvin!) ?? 2500 + 100 * wire.kelvin!))
      case WHITE.auto:
        return this.guessed(this.whitens.at)
      default:
        return over(one, colourOf(KELVIN[wire.whiteBalance!] ?? LAMPS_KELVIN))
    }
  }
}
