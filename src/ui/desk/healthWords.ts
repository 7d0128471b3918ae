/** The state of a link in a word and a figure. */
import type { Health } from '../../core/facts/health'

const WORDS: Record<Health['state'], string> = {
  connecting: 'connecting',
  ready: 'ready',
  slow: 'slow',
  silent: 'silent',
  standby: 'standby',
  refused: 'login refused',
  unheard: 'sends only',
}

export function healthWords(health: Health | null, enabled: boolean): string {
  if (!enabled) return 'off'
  if (!health) return 'not known'
  const word = WORDS[health.state]
  if (health.state === 'ready' || health.state === 'slow') {
    return health.roundTripMs === null ? word : `${word} ${Math.max(1, Math.round(health.roundTripMs))} ms`
  }
  if (health.state === 'silent' && health.silentMs !== null)
    return `${word} ${Math.round(health.silentMs / 1000)} s`
  return word
}

/** Is there something that the operator should look at? */
export const isWell = (health: Health | null, enabled: boolean): boolean =>
  !enabled || health?.state === 'ready' || health?.state === 'unheard'
