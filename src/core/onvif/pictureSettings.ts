/**
 * The picture settings of ONVIF's imaging service: what a device offers by its options, what it is set to, and the
 * request that changes one. Exposure time in µs, gain and iris in dB, all else in the device's own units.
 */
import type { SettingGroup, SettingSpec, SettingValue, SettingValues } from '../picture/settings'
import { setImaging, source } from './imaging'
import { number } from './messages'
import { child, type Message, type Node, textOf } from './soap'

export const getOptions = (video: string) => `<timg:GetOptions>${source(video)}</timg:GetOptions>`

interface Place {
  key: string
  label: string
  group: SettingGroup
  /** From the settings down. */
  path: readonly string[]
  /** Where the options call it otherwise. */
  option?: string
  unit?: string
  /** The mode that takes it by hand. */
  byHand?: string
}

const LEVELS: readonly Place[] = [
  {
    key: 'iris',
    label: 'Iris',
    group: 'exposure',
    path: ['Exposure', 'Iris'],
    unit: 'dB',
    byHand: 'exposureMode',
  },
  {
    ...{ key: 'shutter', label: 'Shutter', group: 'exposure', path: ['Exposure', 'ExposureTime'] },
    ...{ unit: 's', byHand: 'exposureMode' },
  },
  {
    key: 'gain',
    label: 'Gain',
    group: 'exposure',
    path: ['Exposure', 'Gain'],
    unit: 'dB',
    byHand: 'exposureMode',
  },
  {
    ...{ key: 'redGain', label: 'Red gain', group: 'whiteBalance', path: ['WhiteBalance', 'CrGain'] },
    ...{ option: 'YrGain', byHand: 'whiteBalance' },
  },
  {
    ...{ key: 'blueGain', label: 'Blue gain', group: 'whiteBalance', path: ['WhiteBalance', 'CbGain'] },
    ...{ option: 'YbGain', byHand: 'whiteBalance' },
  },
  { key: 'sharpness', label: 'Sharpness', group: 'detail', path: ['Sharpness'] },
  { key: 'saturation', label: 'Saturation', group: 'image', path: ['ColorSaturation'] },
  { key: 'brightness', label: 'Brightness', group: 'image', path: ['Brightness'] },
  { key: 'contrast', label: 'Contrast', group: 'image', path: ['Contrast'] },
]
const MODES: readonly Place[] = [
  { key: 'exposureMode', label: 'Exposure', group: 'exposure', path: ['Exposure', 'Mode'] },
  { key: 'whiteBalance', label: 'White balance', group: 'whiteBalance', path: ['WhiteBalance', 'Mode'] },
  {
    key: 'infrared',
    label: 'Infrared filter',
    group: 'image',
    path: ['IrCutFilter'],
    option: 'IrCutFilterModes',
  },
]
const SWITCHES: readonly Place[] = [
  { key: 'backlight', label: 'Backlight', group: 'exposure', path: ['BacklightCompensation', 'Mode'] },
  { key: 'wideRange', label: 'Wide dynamic range', group: 'exposure', path: ['WideDynamicRange', 'Mode'] },
]
const PLACES = [...MODES, ...SWITCHES, ...LEVELS]

const WORDS: Readonly<Record<string, string>> = { AUTO: 'Auto', MANUAL: 'Manual', ON: 'On', OFF: 'Off' }
const MANUAL = 'MANUAL'
/** Denominators of the usual exposure times. */
const TIMES = [
  25, 30, 50, 60, 75, 100, 120, 150, 200, 250, 300, 400, 500, 700, 1000, 1500, 2000, 3000, 4000, 6000, 10_000,
]
const MOST_STEPS = 120

/** All texts of an element that may come several times. */
function texts(node: Node | undefined, name: string): string[] {
  const found = node?.[name]
  const all: unknown[] = Array.isArray(found) ? found : found === undefined ? [] : [found]
  return all.filter((one): one is string => typeof one === 'string')
}

/** A step of 1, 2 or 5 times a power of ten, so that the range has no more than so many. */
function niceStep(range: number): number {
  const least = range / MOST_STEPS
  const power = 10 ** Math.floor(Math.log10(least))
  const factor = [1, 2, 5, 10].find((f) => f * power >= least) ?? 10
  return factor * power
}

function rangeOf(place: Place, options: Node | undefined): SettingSpec | null {
  const path = [...place.path.slice(0, -1), place.option ?? place.path[place.path.length - 1]!]
  const [min, max] = [number(textOf(options, ...path, 'Min')), number(textOf(options, ...path, 'Max'))]
  if (min === null || max === null || min >= max) return null
  const needs = place.byHand ? [{ key: place.byHand, values: [MANUAL] }] : []
  const { key, label, group, unit = '' } = place
  const shared = {
    kind: 'range',
    key,
    label,
    group,
    needs,
    usual: null,
    restarts: false,
    told: true,
    unit,
  } as const
  if (key !== 'shutter') return { ...shared, min, max, step: niceStep(max - min), marks: [] }
  const inside = TIMES.map((n) => [1e6 / n, 1 / n] as [number, number]).filter(
    ([us]) => us >= min && us <= max,
  )
  const marks = inside.reverse().map(([us, s]) => [Math.round(us), s] as [number, number])
  if (marks.length < 2) return null
  // A step of nothing: its values are those of the marks.
  return { ...shared, min: marks[0]![0], max: marks[marks.length - 1]![0], step: 0, marks }
}

function modesOf(place: Place, options: Node | undefined): string[] {
  const name = place.option ?? place.path[place.path.length - 1]!
  return texts(place.path.length > 1 ? child(options, place.path[0]!) : options, name)
}

/** What the device offers, by its answer to GetOptions. */
export function readOptions({ body }: Message): SettingSpec[] {
  const options = child(body, 'GetOptionsResponse', 'ImagingOptions')
  const shared = { needs: [], usual: null, restarts: false, told: true }
  const modes = MODES.flatMap((place): SettingSpec[] => {
    const { key, label, group } = place
    const values = modesOf(place, options)
    if (values.length < 2) return []
    const labelled = values.map((value) => ({ value, label: WORDS[value] ?? value }))
    return [{ kind: 'choice', key, label, group, ...shared, options: labelled }]
  })
  const switches = SWITCHES.flatMap((place): SettingSpec[] => {
    const { key, label, group } = place
    return modesOf(place, options).length > 1 ? [{ kind: 'switch', key, label, group, ...shared }] : []
  })
  return [...modes, ...switches, ...LEVELS.map((place) => rangeOf(place, options)).filter((s) => s !== null)]
}

/** What the device is set to, by its answer to GetImagingSettings. */
export function readValues({ body }: Message): SettingValues {
  const settings = child(body, 'GetImagingSettingsResponse', 'ImagingSettings')
  const values: SettingValues = {}
  for (const place of PLACES) {
    const text = textOf(settings, ...place.path)
    if (text === '') continue
    const level = number(text)
    if (SWITCHES.includes(place)) values[place.key] = text === 'ON'
    else if (MODES.includes(place)) values[place.key] = text
    else if (level !== null) values[place.key] = level
  }
  return values
}

/**
 * The request that changes one. A level is sent with the mode that takes it, since devices differ in whether a
 * group may come without its mode.
 */
export function setSetting(video: string, key: string, value: SettingValue): string | null {
  const place = PLACES.find((p) => p.key === key)
  if (!place) return null
  const text = typeof value === 'boolean' ? (value ? 'ON' : 'OFF') : String(value)
  const name = place.path[place.path.length - 1]!
  const inner = `${place.byHand ? `<tt:Mode>${MANUAL}</tt:Mode>` : ''}<tt:${name}>${text}</tt:${name}>`
  return setImaging(
    video,
    place.path.length > 1 ? `<tt:${place.path[0]}>${inner}</tt:${place.path[0]}>` : inner,
  )
}
