/** The imaging service of ONVIF: focus, exposure and white balance. */
import type { Light } from '../cameras/light'
import { number } from './messages'
import { child, escapeXml, type Message, textOf } from './soap'

export const source = (text: string) => `<timg:VideoSourceToken>${escapeXml(text)}</timg:VideoSourceToken>`

export const getImaging = (video: string) =>
  `<timg:GetImagingSettings>${source(video)}</timg:GetImagingSettings>`

export const setImaging = (video: string, settings: string) =>
  `<timg:SetImagingSettings>${source(video)}<timg:ImagingSettings>${settings}</timg:ImagingSettings></timg:SetImagingSettings>`

export const setFocusMode = (video: string, auto: boolean) =>
  setImaging(video, `<tt:Focus><tt:AutoFocusMode>${auto ? 'AUTO' : 'MANUAL'}</tt:AutoFocusMode></tt:Focus>`)

const element = (name: string, value: number | null) =>
  value === null ? '' : `<tt:${name}>${value}</tt:${name}>`

/** Only modes that the device itself reported: one that ONVIF has no name for is not set. */
export function setLight(video: string, { exposure, whiteBalance }: Light): string {
  const mode = (by: string) => `<tt:Mode>${by === 'manual' ? 'MANUAL' : 'AUTO'}</tt:Mode>`
  const parts = [
    exposure &&
      `<tt:Exposure>${mode(exposure.mode)}${element('ExposureTime', exposure.shutter)}${element('Gain', exposure.gain)}${element('Iris', exposure.iris)}</tt:Exposure>`,
    whiteBalance &&
      `<tt:WhiteBalance>${mode(whiteBalance.mode)}${element('CrGain', whiteBalance.red)}${element('CbGain', whiteBalance.blue)}</tt:WhiteBalance>`,
  ]
  return setImaging(video, parts.filter(Boolean).join(''))
}

export const getFocusStatus = (video: string) => `<timg:GetStatus>${source(video)}</timg:GetStatus>`

/** @param speed -1..1, far positive */
export const moveFocus = (video: string, speed: number) =>
  `<timg:Move>${source(video)}<timg:Focus><tt:Continuous><tt:Speed>${speed.toFixed(3)}</tt:Speed></tt:Continuous></timg:Focus></timg:Move>`

export const focusTo = (video: string, at: number) =>
  `<timg:Move>${source(video)}<timg:Focus><tt:Absolute><tt:Position>${at.toFixed(6)}</tt:Position></tt:Absolute></timg:Focus></timg:Move>`

export const stopFocus = (video: string) => `<timg:Stop>${source(video)}</timg:Stop>`

export interface Imaging {
  focusAuto: boolean | null
  light: Light | null
}

const onOff = (mode: string): 'auto' | 'manual' | null =>
  mode === 'AUTO' ? 'auto' : mode === 'MANUAL' ? 'manual' : null

/** Levels are in the device's own units: exposure time in µs, gain and iris in dB. */
export function readImaging({ body }: Message): Imaging {
  const settings = child(body, 'GetImagingSettingsResponse', 'ImagingSettings')
  const level = (by: string | null, ...path: string[]) =>
    by === 'manual' ? number(textOf(settings, ...path)) : null
  const focus = textOf(settings, 'Focus', 'AutoFocusMode')
  const exposure = onOff(textOf(settings, 'Exposure', 'Mode'))
  const white = onOff(textOf(settings, 'WhiteBalance', 'Mode'))
  const light: Light = {
    exposure: exposure && {
      mode: exposure,
      shutter: level(exposure, 'Exposure', 'ExposureTime'),
      iris: level(exposure, 'Exposure', 'Iris'),
      gain: level(exposure, 'Exposure', 'Gain'),
      bright: null,
    },
    whiteBalance: white && {
      mode: white,
      red: level(white, 'WhiteBalance', 'CrGain'),
      blue: level(white, 'WhiteBalance', 'CbGain'),
    },
  }
  return { focusAuto: focus === '' ? null : focus === 'AUTO', light: exposure || white ? light : null }
}

/** Where the focus stands, in the device's own units; null if it does not report it. */
export const readFocusPosition = ({ body }: Message): number | null =>
  number(textOf(child(body, 'GetStatusResponse', 'Status'), 'FocusStatus20', 'Position'))
