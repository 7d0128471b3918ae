import type { Standing } from '../../core/presets/standing'

/** What a tile says beside its name. */
export function standingWords(standing: Standing): string {
  switch (standing.kind) {
    case 'travelling':
      return `${(standing.leftMs / 1000).toFixed(1)} s`
    case 'here':
      return 'here'
    case 'off':
      return standing.zoomOnly
        ? 'zoom moved off'
        : `moved off ${standing.deg.toFixed(standing.deg < 10 ? 1 : 0)}°`
    case 'failed':
      return 'not reached'
    case 'unknown':
      return 'unknown'
    case 'sent':
      return 'sent, not seen'
    case 'idle':
      return ''
  }
}
