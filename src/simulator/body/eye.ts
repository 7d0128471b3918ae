/** What is behind the lens of a stand-in: exposure, white balance, and a picture that can be held. */
import { isByHand, type Levels, type Setting } from '../../core/visca/settings'

/** What the lamps of the barn ask for. */
const START: Required<Levels> = {
  whiteBalance: 0x00,
  exposureMode: 0x00,
  redGain: 0x80,
  blueGain: 0x80,
  shutter: 0x06,
  iris: 0x0c,
  gain: 0x04,
  bright: 0x10,
}
/** How many steps make the picture twice as bright; a faster shutter makes it darker. */
const STEPS_A_STOP = { shutter: -2, iris: 2, gain: 2, bright: 3 } as const
/** As far as each level goes. */
export const MOST: Required<Levels> = {
  whiteBalance: 0x05,
  exposureMode: 0x0d,
  redGain: 0xff,
  blueGain: 0xff,
  shutter: 0x15,
  iris: 0x11,
  gain: 0x0f,
  bright: 0x1f,
}
const EXPOSURE_MODES = [0x00, 0x03, 0x0a, 0x0b, 0x0d]
const WHITE = { indoor: 0x01, outdoor: 0x02 }

/** How the picture departs from a well exposed one: stops, and the strength of red and blue, 1 for neutral. */
export interface Tint {
  stops: number
  red: number
  blue: number
}

export class Eye {
  frozen = false
  /** Called when the picture is held, and when it runs again. */
  onFreeze: (frozen: boolean) => void = () => {}
  private readonly levels: Required<Levels> = { ...START }

  freeze(on: boolean): void {
    if (on === this.frozen) return
    this.frozen = on
    this.onFreeze(on)
  }

  level(setting: Setting): number {
    return this.levels[setting]
  }

  /** False where the mode sets it by itself, or there is no such value. */
  set(setting: Setting, value: number): boolean {
    if (value < 0 || value > MOST[setting] || !isByHand(setting, this.levels)) return false
    if (setting === 'exposureMode' && !EXPOSURE_MODES.includes(value)) return false
    this.levels[setting] = value
    return true
  }

  get tint(): Tint {
    const { levels } = this
    let stops = 0
    for (const name of ['shutter', 'iris', 'gain', 'bright'] as const)
      if (isByHand(name, levels)) stops += (levels[name] - START[name]) / STEPS_A_STOP[name]
    const hand = isByHand('redGain', levels)
    const outdoor = levels.whiteBalance === WHITE.outdoor ? 0.22 : 0
    const indoor = levels.whiteBalance === WHITE.indoor ? 0.08 : 0
    return {
      stops,
      red: (hand ? levels.redGain / START.redGain : 1) + outdoor - indoor,
      blue: (hand ? levels.blueGain / START.blueGain : 1) - outdoor + indoor,
    }
  }
}
