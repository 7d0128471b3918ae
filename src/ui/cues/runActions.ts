/** What starts and stops cues; each tells what comes of it. */
import type { ActionName } from '../../core/controls/actions'
import type { BoardButton } from '../../core/cues/show'
import type { DeskView } from '../../server/api'
import {
  chooseCue,
  goCue,
  goNext,
  holdShow,
  playMove,
  sendMessage,
  startTour,
  stopAll,
  stopCue,
} from '../api/client'
import { fault, note } from '../basics/notes'
import { told } from '../basics/told'
import { sticks } from '../input/sticks'
import { recallLook } from '../tuning/lookActions'

export const go = () => void told(goNext)
export const start = (cue: string) => void told(() => goCue(cue))
export const stop = (cue: string) => void told(() => stopCue(cue))
export const choose = (cue: string) => void told(() => chooseCue({ cue }))
export const step = (by: 1 | -1) => void told(() => chooseCue({ by }))
export const hold = (on: boolean) => void told(() => holdShow(on))

export async function stopEverything(): Promise<void> {
  // The hand of this page too.
  sticks.letGo()
  if (await told(stopAll)) note('All cues are ended, and all cameras stopped.')
}

export function pressButton({ does }: BoardButton): void {
  if (does.t === 'cue') start(does.cue)
  else if (does.t === 'tour') void told(() => startTour(does.tour))
  else if (does.t === 'look') void recallLook(does.look)
  else if (does.t === 'replay')
    void told(() => playMove(does.move, { percent: 100, backwards: false, times: 1 }))
  else void told(() => sendMessage(does.device, does.message))
}

const BOARD = [1, 2, 3, 4, 5, 6] as const

/** The keys and stick buttons that run an event, on every page that drives. */
export const runKeys = (
  desk: DeskView | undefined,
  held: boolean,
): Partial<Record<ActionName, () => void>> => ({
  go,
  cueNext: () => step(1),
  cueBack: () => step(-1),
  cueHold: () => hold(!held),
  stopAll: () => void stopEverything(),
  ...Object.fromEntries(
    BOARD.map((n) => [
      `board${n}`,
      () => {
        const button = desk?.show.buttons[n - 1]
        if (button) pressButton(button)
        else fault(`There is no button ${n} on the board. Make it in Cues, Board.`)
      },
    ]),
  ),
})
