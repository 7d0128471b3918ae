/** The state as OSC messages, so that a box can light its buttons. */

import type { ShowNow } from '../cues/now'
import { nextOf } from '../cues/order'
import type { OscMessage } from '../osc/osc'
import type { TallyState } from '../tally/sources'
import type { RemoteView } from './addresses'

export interface RemoteState {
  show: ShowNow | null
  tally(camera: string): TallyState
  /** The preset at which a camera stands or to which it goes; null: none. */
  preset(camera: string): string | null
}

/** Everything, as `/heron/...`; who sends it leaves out what has not changed. */
export function feedbackOf(view: RemoteView, { show, tally, preset }: RemoteState): OscMessage[] {
  const runs = (show?.runs ?? []).filter(({ state }) => state === 'running')
  const one = (path: string, ...values: (string | number)[]): OscMessage => ({
    path: `/heron/${path}`,
    values,
  })
  return [
    one('next', nextOf(view.show.cues, show?.position ?? null)?.name ?? ''),
    one('running', runs.map(({ name }) => name).join(', ')),
    one('held', show?.held ? 1 : 0),
    ...view.cameras.flatMap(({ id, number }) => {
      const at = view.presets.find((p) => p.id === preset(id))
      return [one(`tally/${number}`, tally(id)), one(`camera/${number}/preset`, at?.number ?? 0)]
    }),
    ...view.show.buttons.map(({ does }, i) =>
      one(`button/${i + 1}`, does.t === 'cue' && runs.some((run) => run.cue === does.cue) ? 1 : 0),
    ),
  ]
}
