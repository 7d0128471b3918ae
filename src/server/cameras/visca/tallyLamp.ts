/**
 * A camera's own tally lamp. There are two families of commands for it; where the profile does not say which, the
 * camera does, by refusing the other.
 */
import type { HeadProfile } from '../../../core/heads/profile'
import type { ViscaCommand } from '../../../core/visca/commands'
import type { CameraResult } from '../camera'
import { CANNOT, DONE } from '../camera'
import type { Clock } from '../clock'

/** It is lit for so long to be told from others, ms. */
const FLASH_MS = 3000

export type Lamp = 'program' | 'preview' | 'off'
type Family = Exclude<HeadProfile['tally'], 'ask'>

const GREEN_ON: ViscaCommand = { kind: 'tallyGreen', on: true }
const GREEN_OFF: ViscaCommand = { kind: 'tallyGreen', on: false }

function lampCommands(family: Family, lamp: Lamp): ViscaCommand[] {
  const red: ViscaCommand = { kind: 'tallyLamp', on: lamp === 'program' }
  switch (family) {
    case 'lamp':
      return [red]
    case 'lampAndGreen':
      return lamp === 'preview' ? [red, GREEN_ON] : [GREEN_OFF, red]
    case 'states':
      return [
        { kind: 'tallyState', state: lamp === 'program' ? 'on' : lamp === 'preview' ? 'blinks' : 'off' },
      ]
    case 'none':
      return []
  }
}

export class TallyLamp {
  private family: Family | null
  private cancelFlash: () => void = () => {}
  private flashes = false

  constructor(
    { tally }: HeadProfile,
    private readonly order: (command: ViscaCommand) => Promise<CameraResult>,
    private readonly clock: Clock,
  ) {
    this.family = tally === 'ask' ? null : tally
  }

  /** Can it have one, as far as is known? */
  get possible(): boolean {
    return this.family !== 'none'
  }

  async set(lamp: Lamp | 'flash'): Promise<CameraResult> {
    this.cancelFlash()
    this.flashes = false
    if (lamp !== 'flash') return this.show(lamp)
    const lit = await this.show('program')
    // Whatever becomes of the page that asked for it, it goes out again.
    this.flashes = true
    this.cancelFlash = this.clock.after(FLASH_MS, () => this.end())
    return lit
  }

  /** What flashes goes out. */
  end(): void {
    this.cancelFlash()
    if (this.flashes) void this.show('off')
    this.flashes = false
  }

  private async show(lamp: Lamp): Promise<CameraResult> {
    if (this.family === null) await this.find()
    if (this.family === null || this.family === 'none') return CANNOT('show a tally lamp')
    for (const command of lampCommands(this.family, lamp)) {
      const result = await this.order(command)
      if (!result.ok) return result
    }
    return DONE
  }

  /** Each family is asked to switch its lamp off: the first that is not refused is the camera's. */
  private async find(): Promise<void> {
    for (const family of ['lamp', 'states'] as const) {
      const result = await this.order(lampCommands(family, 'off')[0]!)
      if (!result.ok && !result.unknown) return
      if (!result.ok) continue
      const green = family === 'lamp' && (await this.order(GREEN_OFF)).ok
      this.family = green ? 'lampAndGreen' : family
      return
    }
    this.family = 'none'
  }
}
