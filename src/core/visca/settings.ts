/** The settings of a picture that VISCA sets and asks by number: exposure and white balance. Values 0..255. */
import type { Exposure, Light, WhiteBalance } from '../cameras/light'

/** By their code in command and inquiry. The modes are one byte, the rest is `00 00 0p 0q`. */
export const SETTING_CODES = {
  whiteBalance: 0x35,
  exposureMode: 0x39,
  redGain: 0x43,
  blueGain: 0x44,
  shutter: 0x4a,
  iris: 0x4b,
  gain: 0x4c,
  bright: 0x4d,
} as const
export type Setting = keyof typeof SETTING_CODES
export const SETTINGS = Object.keys(SETTING_CODES) as Setting[]

export const isMode = (setting: Setting): boolean => setting === 'whiteBalance' || setting === 'exposureMode'

export const settingOf = (code: number | undefined): Setting | null =>
  SETTINGS.find((setting) => SETTING_CODES[setting] === code) ?? null

const EXPOSURE: Record<Exposure['mode'], number> = {
  auto: 0x00,
  manual: 0x03,
  shutter: 0x0a,
  iris: 0x0b,
  bright: 0x0d,
}
const WHITE: Record<WhiteBalance['mode'], number> = {
  auto: 0x00,
  indoor: 0x01,
  outdoor: 0x02,
  onePush: 0x03,
  manual: 0x05,
}
/** Which levels can be set by hand in a mode. */
const BY_HAND: Record<Exposure['mode'], readonly ('shutter' | 'iris' | 'gain' | 'bright')[]> = {
  auto: [],
  manual: ['shutter', 'iris', 'gain'],
  shutter: ['shutter'],
  iris: ['iris'],
  bright: ['bright'],
}

export type Levels = Partial<Record<Setting, number>>

function modeOf<T extends string>(codes: Record<T, number>, value: number | undefined): T | null {
  return (Object.keys(codes) as T[]).find((mode) => codes[mode] === value) ?? null
}

/** @returns null if the camera reported neither mode, or one that is not known here */
export function lightOf(levels: Levels): Light | null {
  const mode = modeOf(EXPOSURE, levels.exposureMode)
  const white = modeOf(WHITE, levels.whiteBalance)
  if (!mode && !white) return null
  const hand = mode ? BY_HAND[mode] : []
  const level = (name: 'shutter' | 'iris' | 'gain' | 'bright') =>
    hand.includes(name) ? (levels[name] ?? null) : null
  const gain = (name: 'redGain' | 'blueGain') => (white === 'manual' ? (levels[name] ?? null) : null)
  return {
    exposure: mode && {
      mode,
      shutter: level('shutter'),
      iris: level('iris'),
      gain: level('gain'),
      bright: level('bright'),
    },
    whiteBalance: white && { mode: white, red: gain('redGain'), blue: gain('blueGain') },
  }
}

/** What is to be set, in order: a mode before its levels, which a camera refuses in another mode. */
export function settingsFor({ exposure, whiteBalance }: Light): [Setting, number][] {
  const out: [Setting, number | null][] = []
  if (exposure) {
    out.push(['exposureMode', EXPOSURE[exposure.mode]])
    for (const name of BY_HAND[exposure.mode]) out.push([name, exposure[name]])
  }
  if (whiteBalance) {
    out.push(['whiteBalance', WHITE[whiteBalance.mode]])
    if (whiteBalance.mode === 'manual')
      out.push(['redGain', whiteBalance.red], ['blueGain', whiteBalance.blue])
  }
  return out.filter((one): one is [Setting, number] => one[1] !== null)
}

/** Can a level be set by hand in these modes? */
export function isByHand(setting: Setting, levels: Levels): boolean {
  if (isMode(setting)) return true
  if (setting === 'redGain' || setting === 'blueGain') return levels.whiteBalance === WHITE.manual
  const mode = modeOf(EXPOSURE, levels.exposureMode)
  return mode !== null && BY_HAND[mode].includes(setting as 'shutter')
}
