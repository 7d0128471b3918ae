/** A tally source as it is typed. */
import type { TallyKind, TallySource } from '../../../core/tally/sources'

export const KIND_WORDS: Record<TallyKind, { label: string; about: string }> = {
  'tsl31-udp': { label: 'TSL 3.1', about: 'TSL UMD 3.1 over UDP' },
  'tsl31-serial': { label: 'TSL 3.1 serial', about: 'TSL UMD 3.1 over a serial line, 38400 8E1' },
  'tsl5-udp': { label: 'TSL 5.0', about: 'TSL UMD 5.0 over UDP' },
  'tsl5-tcp': { label: 'TSL 5.0 TCP', about: 'TSL UMD 5.0 over TCP' },
  'osc-udp': { label: 'OSC', about: 'OSC over UDP' },
}

const USUAL_PORT = 8900
const red = { lamp: 'any', colour: 'red' } as const
const green = { lamp: 'any', colour: 'green' } as const

type Common = Pick<TallySource, 'id' | 'name' | 'enabled' | 'cameras' | 'silentAfterSeconds'>

/** What is usual for a kind. */
export function ofKind(kind: TallyKind, common: Common, port = USUAL_PORT): TallySource {
  const shared = {
    id: common.id,
    name: common.name,
    enabled: common.enabled,
    cameras: common.cameras,
    silentAfterSeconds: common.silentAfterSeconds,
  }
  switch (kind) {
    case 'tsl31-udp':
      return { kind, port, ...shared, program: 2, preview: 1 }
    case 'tsl31-serial':
      return { kind, path: '/dev/ttyUSB0', ...shared, program: 2, preview: 1 }
    case 'osc-udp':
      return { kind, port, ...shared, program: '/tally/{input}/program', preview: '/tally/{input}/preview' }
    default:
      return { kind, port, ...shared, program: red, preview: green }
  }
}

export const newSource = (taken: readonly string[]): TallySource => {
  let n = 1
  while (taken.includes(`source-${n}`)) n += 1
  return ofKind('tsl31-udp', {
    id: `source-${n}`,
    name: 'Switcher',
    enabled: true,
    cameras: {},
    silentAfterSeconds: null,
  })
}

export const placeOf = (source: TallySource): string =>
  source.kind === 'tsl31-serial' ? source.path : `port ${source.port}`
