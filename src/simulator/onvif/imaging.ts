/** The imaging service of a stand-in: its focus and the settings of its picture, in the units that ONVIF has for them. */
import { settingOf } from '../../core/heads/namedControls'
import { controlsOf } from '../../core/heads/pictureControls'
import { type Node, textOf } from '../../core/onvif/soap'
import { amountOf, valueFor } from '../../core/picture/units'
import type { Head } from '../body/head'

const MANUAL = { exposureMode: 0x03, whiteBalance: 0x05 } as const
/** Attenuation of the iris in dB, of a head whose widest is this. */
const WIDEST_F = 1.4

type Convert = { to(amount: number): number; from(told: number): number }
const SAME: Convert = { to: (x) => x, from: (x) => x }
const MICROSECONDS: Convert = { to: (s) => s * 1e6, from: (us) => us / 1e6 }
const ATTENUATION: Convert = {
  to: (f) => (f === 0 ? 100 : 20 * Math.log10(f / WIDEST_F)),
  from: (db) => WIDEST_F * 10 ** (db / 20),
}
interface Place {
  key: string
  path: readonly string[]
  convert?: Convert
}
/** Where each of its settings stands in the service's XML; what the head lacks is left out. */
const PLACES: readonly Place[] = [
  { key: 'shutter', path: ['Exposure', 'ExposureTime'], convert: MICROSECONDS },
  { key: 'gain', path: ['Exposure', 'Gain'] },
  { key: 'iris', path: ['Exposure', 'Iris'], convert: ATTENUATION },
  { key: 'redGain', path: ['WhiteBalance', 'CrGain'] },
  { key: 'blueGain', path: ['WhiteBalance', 'CbGain'] },
  { key: 'brightness', path: ['Brightness'] },
  { key: 'saturation', path: ['ColorSaturation'] },
  { key: 'contrast', path: ['Contrast'] },
  { key: 'sharpness', path: ['Sharpness'] },
]

const specOf = (head: Head, key: string) => {
  const all = controlsOf(head.profile)
  const control = all.find((c) => c.key === key)
  const spec = control && settingOf(control, all)
  return spec?.kind === 'range' ? spec : null
}

/** In the service's units. */
function told(head: Head, { key, convert = SAME }: Place): number | null {
  const spec = specOf(head, key)
  return spec && convert.to(amountOf(spec, head.eye.level(key)))
}

export function focusStatus({ focus, profile }: Head): string {
  const { near, far } = profile.focus
  const at = (focus.position - far) / (near - far)
  return `<timg:GetStatusResponse><timg:Status><tt:FocusStatus20><tt:Position>${at.toFixed(6)}</tt:Position><tt:MoveStatus>${focus.moving ? 'MOVING' : 'IDLE'}</tt:MoveStatus></tt:FocusStatus20></timg:Status></timg:GetStatusResponse>`
}

/** One group of the settings, or what stands in none. */
function written(head: Head, group: string | null): string {
  return PLACES.filter(({ path }) => (path.length === 1 ? null : path[0]) === group)
    .map((place) => {
      const value = told(head, place)
      const name = place.path[place.path.length - 1]
      return value === null ? '' : `<tt:${name}>${Number(value.toFixed(4))}</tt:${name}>`
    })
    .join('')
}

export function imagingSettings(head: Head): string {
  const { focus, eye } = head
  const word = (setting: 'exposureMode' | 'whiteBalance') =>
    eye.level(setting) === MANUAL[setting] ? 'MANUAL' : 'AUTO'
  const back = hasSetting(head, 'backlight')
    ? `<tt:BacklightCompensation><tt:Mode>${eye.level('backlight') === 1 ? 'ON' : 'OFF'}</tt:Mode></tt:BacklightCompensation>`
    : ''
  const exposure = `<tt:Exposure><tt:Mode>${word('exposureMode')}</tt:Mode>${written(head, 'Exposure')}</tt:Exposure>`
  const white = `<tt:WhiteBalance><tt:Mode>${word('whiteBalance')}</tt:Mode>${written(head, 'WhiteBalance')}</tt:WhiteBalance>`
  return `<timg:GetImagingSettingsResponse><timg:ImagingSettings>${back}${written(head, null)}${exposure}<tt:Focus><tt:AutoFocusMode>${focus.auto ? 'AUTO' : 'MANUAL'}</tt:AutoFocusMode></tt:Focus>${white}</timg:ImagingSettings></timg:GetImagingSettingsResponse>`
}

const hasSetting = (head: Head, key: string) => controlsOf(head.profile).some((c) => c.key === key)

/** False where a value is not allowed. */
export function setImagingSettings(head: Head, settings: Node | undefined): boolean {
  const { focus, eye } = head
  const known = (mode: string) => mode === 'AUTO' || mode === 'MANUAL'
  const exposure = textOf(settings, 'Exposure', 'Mode')
  const white = textOf(settings, 'WhiteBalance', 'Mode')
  const focusMode = textOf(settings, 'Focus', 'AutoFocusMode')
  const back = textOf(settings, 'BacklightCompensation', 'Mode')
  if (![exposure, white, focusMode].every((mode) => mode === '' || known(mode))) return false
  const wanted: [string, number][] = []
  if (exposure) wanted.push(['exposureMode', exposure === 'MANUAL' ? MANUAL.exposureMode : 0])
  if (white) wanted.push(['whiteBalance', white === 'MANUAL' ? MANUAL.whiteBalance : 0])
  if (back) wanted.push(['backlight', back === 'ON' ? 1 : 0])
  for (const { key, path, convert = SAME } of PLACES) {
    const text = textOf(settings, ...path)
    const spec = specOf(head, key)
    if (text === '') continue
    const amount = convert.from(Number(text))
    if (!spec || !Number.isFinite(amount)) return false
    const most = Math.max(...[spec.min, spec.max].map((end) => Math.abs(amountOf(spec, end))))
    if (key !== 'iris' && Math.abs(amount) > most * 1.01) return false
    wanted.push([key, valueFor(spec, amount)])
  }
  if (focusMode) focus.setAuto(focusMode === 'AUTO')
  return wanted.every(([key, value]) => eye.set(key, value))
}

const range = (name: string, min: number, max: number) =>
  `<tt:${name}><tt:Min>${Number(min.toFixed(4))}</tt:Min><tt:Max>${Number(max.toFixed(4))}</tt:Max></tt:${name}>`
const modes = (name: string) => `<tt:${name}>AUTO</tt:${name}><tt:${name}>MANUAL</tt:${name}>`
/** What the options call a setting otherwise than the settings do. */
const OPTION_NAME: Readonly<Record<string, string>> = { CrGain: 'YrGain', CbGain: 'YbGain' }

function offered(head: Head, group: string | null): string {
  return PLACES.filter(({ path }) => (path.length === 1 ? null : path[0]) === group)
    .map(({ key, path, convert = SAME }) => {
      const spec = specOf(head, key)
      if (!spec) return ''
      const least = key === 'iris' ? 1 : spec.min
      const ends = [convert.to(amountOf(spec, least)), convert.to(amountOf(spec, spec.max))]
      const name = path[path.length - 1]!
      return range(OPTION_NAME[name] ?? name, Math.min(...ends), Math.max(...ends))
    })
    .join('')
}

/** What can be set, in the units of the settings. */
export function imagingOptions(head: Head): string {
  const back = hasSetting(head, 'backlight')
    ? '<tt:BacklightCompensation><tt:Mode>OFF</tt:Mode><tt:Mode>ON</tt:Mode></tt:BacklightCompensation>'
    : ''
  const exposure = `<tt:Exposure>${modes('Mode')}${offered(head, 'Exposure')}</tt:Exposure>`
  const white = `<tt:WhiteBalance>${modes('Mode')}${offered(head, 'WhiteBalance')}</tt:WhiteBalance>`
  return `<timg:GetOptionsResponse><timg:ImagingOptions>${back}${offered(head, null)}${exposure}<tt:Focus>${modes('AutoFocusModes')}${range('DefaultSpeed', 0, 1)}</tt:Focus>${white}</timg:ImagingOptions></timg:GetOptionsResponse>`
}

export const moveOptions = (): string =>
  `<timg:GetMoveOptionsResponse><timg:MoveOptions><tt:Absolute>${range('Position', 0, 1)}</tt:Absolute><tt:Continuous>${range('Speed', -1, 1)}</tt:Continuous></timg:MoveOptions></timg:GetMoveOptionsResponse>`
