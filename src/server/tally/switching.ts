/** What the Desk asks of the venue's switcher; where there is none, on air is set by hand. */
import { readLine } from '../../core/messages/line'
import { BY_HAND } from '../../core/tally/board'
import { SWITCHER_LINES, type Switcher, type SwitcherAction } from '../../core/tally/switcher'
import { exchange } from '../links/exchange'
import type { TallyDesk } from './tally'

export interface SwitchingNeeds {
  switcher(): Switcher
  tally: Pick<TallyDesk, 'say' | 'of' | 'byHand'>
  cameras(): readonly string[]
}

export const NO_WAY = 'Nothing is described that could do this. Describe the switcher in Setup, Tally.'

export class Switching {
  constructor(private readonly needs: SwitchingNeeds) {}

  /** @returns why it was not done, in a sentence; null when it was */
  async act(action: SwitcherAction, camera: string | null): Promise<string | null> {
    const switcher = this.needs.switcher()
    const line = switcher.enabled ? switcher[action] : null
    if (line === null) return this.byHand(action, camera)
    const needsInput = (SWITCHER_LINES[action] as readonly string[]).includes('input')
    const input = camera === null ? undefined : switcher.inputs[camera]
    if (needsInput && !input)
      return 'It is not known which input of the switcher this camera is. Enter it in Setup, Tally.'
    const { fadeSeconds } = switcher
    const number = Number(input)
    const values = {
      ...(input === undefined ? {} : { input: Number.isFinite(number) && input !== '' ? number : input }),
      ...{ seconds: fadeSeconds, ms: Math.round(fadeSeconds * 1000) },
    }
    try {
      await exchange(readLine(line, values))
      return null
    } catch (error) {
      return `The switcher was not reached: ${(error as Error).message}`
    }
  }

  /** Preview is kept for the next cut, which changes the two. */
  private byHand(action: SwitcherAction, camera: string | null): string | null {
    const { tally, cameras } = this.needs
    if (!tally.byHand || action === 'monitor' || action === 'fade') return NO_WAY
    if (action === 'preview') {
      if (camera === null) return NO_WAY
      tally.say(BY_HAND, camera, 'preview', true)
      return null
    }
    const said = (state: 'program' | 'preview') =>
      cameras().find((id) => tally.of(id)?.state === state && tally.of(id)?.source === BY_HAND)
    const [next, former] = [said('preview') ?? camera, said('program')]
    if (!next) return 'Choose first what is to be next.'
    if (former && former !== next) tally.say(BY_HAND, former, 'preview', true)
    tally.say(BY_HAND, next, 'program', true)
    return null
  }
}
