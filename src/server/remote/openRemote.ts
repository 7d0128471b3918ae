/** Puts together what programs and button boxes reach: keys, addresses, OSC. */
import type { Hono } from 'hono'
import { SERVER } from '../../core/facts/facts'
import { CHANGE_HEADER } from '../../core/live/headers'
import type { Actor } from '../../core/orders/actors'
import { feedbackOf } from '../../core/remote/feedback'
import { NO_OSC } from '../../core/remote/settings'
import { realClock } from '../cameras/clock'
import type { Facts } from '../facts/facts'
import type { Gate } from '../gate/gate'
import type { Catalogue } from '../store/catalogue'
import type { TallyDesk } from '../tally/tally'
import { OscRemote } from './oscRemote'
import { Remote } from './remote'

export interface RemoteNeeds {
  catalogue: Catalogue
  facts: Facts
  gate: Gate
  tally(): Pick<TallyDesk, 'of'>
  /** The API, which does what is asked for. */
  api(): Pick<Hono, 'request'>
  select(camera: string): void
  notice(text: string): void
}

/** By whom a request of ours is made; no request from outside can carry it. */
const madeBy = new WeakMap<Request, Actor>()
export const actorBehind = (request: Request): Actor | null => madeBy.get(request) ?? null

export function openRemote({ catalogue, facts, gate, tally, api, select, notice }: RemoteNeeds) {
  const view = () => catalogue.current?.view ?? null
  const remote = new Remote({
    ...{ view, gate, clock: realClock, select },
    async request({ method, path, body }, actor) {
      const headers = { [CHANGE_HEADER]: '1', 'content-type': 'application/json' }
      const request = new Request(`http://inside${path}`, { method, headers, body: JSON.stringify(body) })
      madeBy.set(request, actor)
      const answer = await api().request(request)
      if (answer.ok) return null
      const { error } = (await answer.json().catch(() => ({}))) as { error?: string }
      return error ?? 'It was refused.'
    },
  })
  const osc = new OscRemote({
    ...{ remote, clock: realClock, notice },
    state() {
      const now = view()
      if (!now) return []
      return feedbackOf(now, {
        show: facts.get('show', SERVER),
        tally: (camera) => tally().of(camera)?.state ?? 'off',
        preset(camera) {
          const travel = facts.get('travel', camera)
          return travel?.state === 'travelling' || travel?.state === 'arrived' ? travel.presetId : null
        },
      })
    },
  })
  facts.listen((all) => {
    if (all.some(({ kind }) => kind === 'show' || kind === 'tally' || kind === 'travel')) osc.changed()
  })
  return {
    ...{ remote, osc },
    /** The open venue has changed. */
    follow: () => osc.configure(catalogue.current?.osc ?? NO_OSC),
    close() {
      osc.close()
      remote.close()
    },
  }
}
