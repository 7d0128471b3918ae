/** How the link to a VISCA camera is doing, for the operator. */
import type { Health } from '../../../core/facts/health'
import type { ViscaSession } from '../../../core/visca/session'
import { CONNECTING, SILENT, SLOW, STANDBY } from './words'

const SLOW_LOSS = 0.12

export interface LinkSeen {
  /** What keeps bytes from going out, in words; null if nothing does. */
  trouble: string | null
  /** As shown to the operator. */
  address: string
  power: boolean
  /** A round trip beyond this counts as slow, ms. */
  slowMs: number
  nowMs: number
}

function stateOf({ state, stats }: ViscaSession, { power, slowMs }: LinkSeen): Health['state'] {
  if (state !== 'ready') return state
  if (!power) return 'standby'
  return (stats.roundTripMs ?? 0) > slowMs || stats.loss > SLOW_LOSS ? 'slow' : 'ready'
}

export function viscaHealth(session: ViscaSession, seen: LinkSeen): Health {
  const { stats, lastAnswerMs, reconnects } = session
  const state = stateOf(session, seen)
  const advice = {
    connecting: seen.trouble ?? CONNECTING(seen.address),
    silent: seen.trouble ?? SILENT,
    standby: STANDBY,
    slow: SLOW,
    ready: null,
    refused: null,
    unheard: null,
  }[state]
  return {
    state,
    advice,
    roundTripMs: stats.roundTripMs === null ? null : Math.round(stats.roundTripMs * 10) / 10,
    loss: Math.round(stats.loss * 1000) / 1000,
    silentMs: lastAnswerMs === null ? null : Math.round(seen.nowMs - lastAnswerMs),
    reconnects,
  }
}
