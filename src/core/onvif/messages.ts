/** The ONVIF requests that we send, and what we read out of their answers. */
import { child, children, escapeXml, type Message, type Node, textOf } from './soap'

/** Null if it is no number. */
export const number = (text: string): number | null => {
  const value = Number(text)
  return text === '' || !Number.isFinite(value) ? null : value
}

const attribute = (node: Node | undefined, name: string): string => {
  const value = node?.[`@${name}`]
  return typeof value === 'string' ? value : ''
}

export const GET_TIME = '<tds:GetSystemDateAndTime/>'
export const GET_INFORMATION = '<tds:GetDeviceInformation/>'
export const GET_CAPABILITIES = '<tds:GetCapabilities><tds:Category>All</tds:Category></tds:GetCapabilities>'
export const GET_PROFILES = '<trt:GetProfiles/>'
export const GET_NODES = '<tptz:GetNodes/>'

const token = (text: string) => `<tptz:ProfileToken>${escapeXml(text)}</tptz:ProfileToken>`
const xy = (name: string, x: number, y: number) => `<tt:${name} x="${x.toFixed(6)}" y="${y.toFixed(6)}"/>`
const x1 = (x: number) => `<tt:Zoom x="${x.toFixed(6)}"/>`

export const getStatus = (profile: string) => `<tptz:GetStatus>${token(profile)}</tptz:GetStatus>`

export interface Velocity {
  /** Each -1..1. */
  pan: number
  tilt: number
  zoom: number
}

/** @param timeoutS after which the device stops by itself */
export const continuousMove = (profile: string, v: Velocity, timeoutS: number) =>
  `<tptz:ContinuousMove>${token(profile)}<tptz:Velocity>${xy('PanTilt', v.pan, v.tilt)}${x1(v.zoom)}</tptz:Velocity><tptz:Timeout>PT${timeoutS}S</tptz:Timeout></tptz:ContinuousMove>`

export const stop = (profile: string, what: { panTilt: boolean; zoom: boolean }) =>
  `<tptz:Stop>${token(profile)}<tptz:PanTilt>${what.panTilt}</tptz:PanTilt><tptz:Zoom>${what.zoom}</tptz:Zoom></tptz:Stop>`

export interface Position {
  /** Each in the device's space, normalised -1..1 and 0..1 unless it offers degrees. */
  pan?: number
  tilt?: number
  zoom?: number
}

const position = (p: Position) =>
  (p.pan !== undefined && p.tilt !== undefined ? xy('PanTilt', p.pan, p.tilt) : '') +
  (p.zoom !== undefined ? x1(p.zoom) : '')

export const absoluteMove = (profile: string, p: Position) =>
  `<tptz:AbsoluteMove>${token(profile)}<tptz:Position>${position(p)}</tptz:Position></tptz:AbsoluteMove>`

export const goHome = (profile: string) => `<tptz:GotoHomePosition>${token(profile)}</tptz:GotoHomePosition>`

export const getPresets = (profile: string) => `<tptz:GetPresets>${token(profile)}</tptz:GetPresets>`

/** With a token the preset that has it is written over; without one the device makes a new one. */
export const setPreset = (profile: string, name: string, preset?: string) =>
  `<tptz:SetPreset>${token(profile)}<tptz:PresetName>${escapeXml(name)}</tptz:PresetName>${
    preset === undefined ? '' : `<tptz:PresetToken>${escapeXml(preset)}</tptz:PresetToken>`
  }</tptz:SetPreset>`

export const goToPreset = (profile: string, preset: string) =>
  `<tptz:GotoPreset>${token(profile)}<tptz:PresetToken>${escapeXml(preset)}</tptz:PresetToken></tptz:GotoPreset>`

export const getStreamUri = (profile: string) =>
  `<trt:GetStreamUri><trt:StreamSetup><tt:Stream>RTP-Unicast</tt:Stream><tt:Transport><tt:Protocol>RTSP</tt:Protocol></tt:Transport></trt:StreamSetup><trt:ProfileToken>${escapeXml(profile)}</trt:ProfileToken></trt:GetStreamUri>`

export const getSnapshotUri = (profile: string) =>
  `<trt:GetSnapshotUri><trt:ProfileToken>${escapeXml(profile)}</trt:ProfileToken></trt:GetSnapshotUri>`

/** UTC in ms since 1970; null if the device does not report it. */
export function readTime({ body }: Message): number | null {
  const utc = child(body, 'GetSystemDateAndTimeResponse', 'SystemDateAndTime', 'UTCDateTime')
  const [date, time] = [child(utc, 'Date'), child(utc, 'Time')]
  const parts = [
    textOf(date, 'Year'),
    textOf(date, 'Month'),
    textOf(date, 'Day'),
    textOf(time, 'Hour'),
    textOf(time, 'Minute'),
    textOf(time, 'Second'),
  ].map(number)
  if (parts.some((part) => part === null)) return null
  const [y, mo, d, h, mi, s] = parts as number[]
  return Date.UTC(y!, mo! - 1, d!, h!, mi!, s!)
}

export function readInformation({ body }: Message): string {
  const info = child(body, 'GetDeviceInformationResponse')
  return [textOf(info, 'Manufacturer'), textOf(info, 'Model')].filter(Boolean).join(' ')
}

/** Paths or addresses of the services; empty if the device has none. */
export interface Services {
  media: string
  ptz: string
  imaging: string
}

export function readCapabilities({ body }: Message): Services {
  const all = child(body, 'GetCapabilitiesResponse', 'Capabilities')
  const at = (name: string) => textOf(all, name, 'XAddr')
  return { media: at('Media'), ptz: at('PTZ'), imaging: at('Imaging') }
}

export interface MediaProfile {
  token: string
  width: number
  height: number
  videoSource: string
  hasPtz: boolean
}

export function readProfiles({ body }: Message): MediaProfile[] {
  return children(child(body, 'GetProfilesResponse'), 'Profiles').map((p) => ({
    token: attribute(p, 'token'),
    width: number(textOf(p, 'VideoEncoderConfiguration', 'Resolution', 'Width')) ?? 0,
    height: number(textOf(p, 'VideoEncoderConfiguration', 'Resolution', 'Height')) ?? 0,
    videoSource: textOf(p, 'VideoSourceConfiguration', 'SourceToken'),
    hasPtz: child(p, 'PTZConfiguration') !== undefined,
  }))
}

export interface Range {
  min: number
  max: number
}

/** What a PTZ node offers: the ranges of its position spaces, and whether they are degrees. */
export interface PtzNode {
  pan: Range
  tilt: Range
  zoom: Range
  degrees: boolean
  absolute: boolean
  home: boolean
  presets: number
}

const NORMALISED: Range = { min: -1, max: 1 }
const UNIT: Range = { min: 0, max: 1 }

function rangeOf(space: Node | undefined, name: 'XRange' | 'YRange', fallback: Range): Range {
  const min = number(textOf(space, name, 'Min'))
  const max = number(textOf(space, name, 'Max'))
  return min === null || max === null || min >= max ? fallback : { min, max }
}

export function readNodes({ body }: Message): PtzNode | null {
  const node = children(child(body, 'GetNodesResponse'), 'PTZNode')[0]
  if (!node) return null
  const spaces = child(node, 'SupportedPTZSpaces')
  const absolute = children(spaces, 'AbsolutePanTiltPositionSpace')
  const zooms = children(spaces, 'AbsoluteZoomPositionSpace')
  const generic = absolute.find((s) => textOf(s, 'URI').includes('PositionGenericSpace')) ?? absolute[0]
  return {
    pan: rangeOf(generic, 'XRange', NORMALISED),
    tilt: rangeOf(generic, 'YRange', NORMALISED),
    zoom: rangeOf(zooms[0], 'XRange', UNIT),
    degrees: textOf(generic, 'URI').includes('SphericalPositionSpaceDegrees'),
    absolute: absolute.length > 0,
    home: textOf(node, 'HomeSupported') === 'true',
    presets: number(textOf(node, 'MaximumNumberOfPresets')) ?? 0,
  }
}

export interface PtzStatus {
  pan: number | null
  tilt: number | null
  zoom: number | null
  /** Null if the device does not report it. */
  moving: boolean | null
}

export function readStatus({ body }: Message): PtzStatus {
  const status = child(body, 'GetStatusResponse', 'PTZStatus')
  const at = child(status, 'Position')
  const moves = [textOf(status, 'MoveStatus', 'PanTilt'), textOf(status, 'MoveStatus', 'Zoom')]
  return {
    pan: number(attribute(child(at, 'PanTilt'), 'x')),
    tilt: number(attribute(child(at, 'PanTilt'), 'y')),
    zoom: number(attribute(child(at, 'Zoom'), 'x')),
    moving: moves.every((m) => m === '') ? null : moves.includes('MOVING'),
  }
}

export const readStreamUri = ({ body }: Message) => textOf(body, 'GetStreamUriResponse', 'MediaUri', 'Uri')

export const readSnapshotUri = ({ body }: Message) =>
  textOf(body, 'GetSnapshotUriResponse', 'MediaUri', 'Uri')

export interface DevicePreset {
  token: string
  name: string
}

export function readPresets({ body }: Message): DevicePreset[] {
  return children(child(body, 'GetPresetsResponse'), 'Preset').map((p) => ({
    token: attribute(p, 'token'),
    name: textOf(p, 'Name'),
  }))
}

/** How the presets that we make at a device are called there. */
export const memoryName = (number: number): string => `Memory ${number}`

/** The device's preset of a number: one that we have made, else one whose token is the number. */
export const presetOfMemory = (presets: readonly DevicePreset[], number: number): DevicePreset | null =>
  presets.find((p) => p.name === memoryName(number)) ??
  presets.find((p) => p.token === String(number)) ??
  null

/**
 * That one, else one whose name ends with the number, as devices name those that were made at themselves.
 * A guess: good enough to go there, and not to store over it.
 */
export function presetNumbered(presets: readonly DevicePreset[], number: number): DevicePreset | null {
  const ends = new RegExp(`(^|\\D)0*${number}$`)
  return presetOfMemory(presets, number) ?? presets.find((p) => ends.test(p.name.trim())) ?? null
}
