/** The imaging service of a stand-in: focus, exposure and white balance, in the units that ONVIF has for them. */
import { type Node, textOf } from '../../core/onvif/soap'
import type { Setting } from '../../core/visca/settings'
import { MOST } from '../body/eye'
import type { Head } from '../body/head'

const MANUAL = { exposureMode: 0x03, whiteBalance: 0x05 } as const
/** What a step of the sensor is in the service's units: exposure time in µs falls by half with each two steps. */
const timeOf = (step: number) => Math.round(1_000_000 / 25 / 2 ** (step / 2))
const stepOf = (us: number) => Math.round(2 * Math.log2(1_000_000 / 25 / us))
/** Gain and iris in dB. */
const DB = { gain: 3, iris: -3 } as const
const IRIS_OPEN = 0x11

export function focusStatus({ focus, profile }: Head): string {
  const { near, far } = profile.focus
  const at = (focus.position - far) / (near - far)
  return `<timg:GetStatusResponse><timg:Status><tt:FocusStatus20><tt:Position>${at.toFixed(6)}</tt:Position><tt:MoveStatus>${focus.moving ? 'MOVING' : 'IDLE'}</tt:MoveStatus></tt:FocusStatus20></timg:Status></timg:GetStatusResponse>`
}

export function imagingSettings({ focus, eye }: Head): string {
  const word = (setting: 'exposureMode' | 'whiteBalance') =>
    eye.level(setting) === MANUAL[setting] ? 'MANUAL' : 'AUTO'
  const exposure = `<tt:Exposure><tt:Mode>${word('exposureMode')}</tt:Mode><tt:ExposureTime>${timeOf(eye.level('shutter'))}</tt:ExposureTime><tt:Gain>${eye.level('gain') * DB.gain}</tt:Gain><tt:Iris>${(eye.level('iris') - IRIS_OPEN) * DB.iris}</tt:Iris></tt:Exposure>`
  const white = `<tt:WhiteBalance><tt:Mode>${word('whiteBalance')}</tt:Mode><tt:CrGain>${eye.level('redGain')}</tt:CrGain><tt:CbGain>${eye.level('blueGain')}</tt:CbGain></tt:WhiteBalance>`
  return `<timg:GetImagingSettingsResponse><timg:ImagingSettings>${exposure}<tt:Focus><tt:AutoFocusMode>${focus.auto ? 'AUTO' : 'MANUAL'}</tt:AutoFocusMode></tt:Focus>${white}</timg:ImagingSettings></timg:GetImagingSettingsResponse>`
}

/** False where a value is not allowed. */
export function setImagingSettings({ focus, eye }: Head, settings: Node | undefined): boolean {
  const known = (mode: string) => mode === 'AUTO' || mode === 'MANUAL'
  const wanted: [Setting, number][] = []
  const value = (setting: Setting, convert: (x: number) => number, ...path: string[]) => {
    const text = textOf(settings, ...path)
    if (text !== '') wanted.push([setting, convert(Number(text))])
  }
  const exposure = textOf(settings, 'Exposure', 'Mode')
  const white = textOf(settings, 'WhiteBalance', 'Mode')
  const focusMode = textOf(settings, 'Focus', 'AutoFocusMode')
  if (![exposure, white, focusMode].every((mode) => mode === '' || known(mode))) return false
  if (exposure) wanted.push(['exposureMode', exposure === 'MANUAL' ? MANUAL.exposureMode : 0])
  value('shutter', stepOf, 'Exposure', 'ExposureTime')
  value('gain', (db) => Math.round(db / DB.gain), 'Exposure', 'Gain')
  value('iris', (db) => Math.round(db / DB.iris) + IRIS_OPEN, 'Exposure', 'Iris')
  if (white) wanted.push(['whiteBalance', white === 'MANUAL' ? MANUAL.whiteBalance : 0])
  value('redGain', Math.round, 'WhiteBalance', 'CrGain')
  value('blueGain', Math.round, 'WhiteBalance', 'CbGain')
  if (wanted.some(([, level]) => !Number.isFinite(level))) return false
  if (focusMode) focus.setAuto(focusMode === 'AUTO')
  return wanted.every(([setting, level]) => eye.set(setting, level))
}

const range = (name: string, min: number, max: number) =>
  `<tt:${name}><tt:Min>${min}</tt:Min><tt:Max>${max}</tt:Max></tt:${name}>`
const modes = (name: string) => `<tt:${name}>AUTO</tt:${name}><tt:${name}>MANUAL</tt:${name}>`

/** What can be set, in the units of the settings. */
export function imagingOptions(): string {
  const { shutter, gain, redGain, blueGain } = MOST
  const exposure = `<tt:Exposure>${modes('Mode')}${range('ExposureTime', timeOf(shutter), timeOf(0))}${range('Gain', 0, gain * DB.gain)}${range('Iris', 0, -IRIS_OPEN * DB.iris)}</tt:Exposure>`
  const white = `<tt:WhiteBalance>${modes('Mode')}${range('YrGain', 0, redGain)}${range('YbGain', 0, blueGain)}</tt:WhiteBalance>`
  return `<timg:GetOptionsResponse><timg:ImagingOptions>${exposure}<tt:Focus>${modes('AutoFocusModes')}${range('DefaultSpeed', 0, 1)}</tt:Focus>${white}</timg:ImagingOptions></timg:GetOptionsResponse>`
}

export const moveOptions = (): string =>
  `<timg:GetMoveOptionsResponse><timg:MoveOptions><tt:Absolute>${range('Position', 0, 1)}</tt:Absolute><tt:Continuous>${range('Speed', -1, 1)}</tt:Continuous></timg:MoveOptions></timg:GetMoveOptionsResponse>`
