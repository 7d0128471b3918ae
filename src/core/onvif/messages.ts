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
/** What newer devices tell instead of their capabilities. */
export const GET_SERVICES =
  '<tds:GetServices><tds:IncludeCapability>false</tds:IncludeCapability></tds:GetServices>'
export const GET_PROFILES = '<trt:GetProfiles/>'
export const GET_PROFILES_2 = '<tr2:GetProfiles><tr2:Type>All</tr2:Type></tr2:GetProfiles>'
export const GET_NODES = '<tptz:GetNodes/>'
/** Its spaces too, of one configuration. */
export const getPtzOptions = (configuration: string) =>
  `<tptz:GetConfigurationOptions><tptz:ConfigurationToken>${escapeXml(configuration)}</tptz:ConfigurationToken></tptz:GetConfigurationOptions>`

const token = (text: string) => `<tptz:ProfileToken>${escapeXml(text)}</tptz:ProfileToken>`
const inSpace = (space: string) => (space === '' ? '' : ` space="${escapeXml(space)}"`)
const xy = (x: number, y: number, space = '') =>
  `<tt:PanTilt x="${x.toFixed(6)}" y="${y.toFixed(6)}"${inSpace(space)}/>`
const x1 = (x: number, space = '') => `<tt:Zoom x="${x.toFixed(6)}"${inSpace(space)}/>`

export const getStatus = (profile: string) => `<tptz:GetStatus>${token(profile)}</tptz:GetStatus>`

export interface Velocity {
  /** Each -1..1. */
  pan: number
  tilt: number
  zoom: number
}

/**
 * @param timeoutS after which the device stops by itself; null where it refuses to be told
 * @param node whose spaces of speed are named, and which may know no speed of its zoom
 */
export function continuousMove(
  profile: string,
  v: Velocity,
  timeoutS: number | null,
  node: Pick<PtzNode, 'speedSpace' | 'zoomSpeedSpace' | 'zoomSpeed'>,
): string {
  const timeout = timeoutS === null ? '' : `<tptz:Timeout>PT${timeoutS}S</tptz:Timeout>`
  return `<tptz:ContinuousMove>${token(profile)}<tptz:Velocity>${xy(v.pan, v.tilt, node.speedSpace)}${node.zoomSpeed ? x1(v.zoom, node.zoomSpeedSpace) : ''}</tptz:Velocity>${timeout}</tptz:ContinuousMove>`
}

export const stop = (profile: string, what: { panTilt: boolean; zoom: boolean }) =>
  `<tptz:Stop>${token(profile)}<tptz:PanTilt>${what.panTilt}</tptz:PanTilt><tptz:Zoom>${what.zoom}</tptz:Zoom></tptz:Stop>`

export interface Position {
  /** Each in the device's space, normalised -1..1 and 0..1 unless it offers degrees. */
  pan?: number
  tilt?: number
  zoom?: number
}

/** The spaces are named, since a device may take its own default for anything. */
export function absoluteMove(
  profile: string,
  p: Position,
  node: Pick<PtzNode, 'panTiltSpace' | 'zoomSpace'>,
): string {
  const at =
    (p.pan !== undefined && p.tilt !== undefined ? xy(p.pan, p.tilt, node.panTiltSpace) : '') +
    (p.zoom !== undefined ? x1(p.zoom, node.zoomSpace) : '')
  return `<tptz:AbsoluteMove>${token(profile)}<tptz:Position>${at}</tptz:Position></tptz:AbsoluteMove>`
}

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

export const getStreamUri2 = (profile: string) =>
  `<tr2:GetStreamUri><tr2:Protocol>RTSP</tr2:Protocol><tr2:ProfileToken>${escapeXml(profile)}</tr2:ProfileToken></tr2:GetStreamUri>`

export const getSnapshotUri2 = (profile: string) =>
  `<tr2:GetSnapshotUri><tr2:ProfileToken>${escapeXml(profile)}</tr2:ProfileToken></tr2:GetSnapshotUri>`

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
  /** The newer media service. */
  media2: string
  ptz: string
  imaging: string
}

export function readCapabilities({ body }: Message): Services {
  const all = child(body, 'GetCapabilitiesResponse', 'Capabilities')
  const at = (name: string) => textOf(all, name, 'XAddr')
  return { media: at('Media'), media2: '', ptz: at('PTZ'), imaging: at('Imaging') }
}

export function readServices({ body }: Message): Services {
  const all = children(child(body, 'GetServicesResponse'), 'Service')
  const at = (space: string) => {
    const found = all.find((service) => textOf(service, 'Namespace').includes(space))
    return found ? textOf(found, 'XAddr') : ''
  }
  return { media: at('/ver10/media'), media2: at('/ver20/media'), ptz: at('/ptz/'), imaging: at('/imaging/') }
}

export interface MediaProfile {
  token: string
  width: number
  height: number
  videoSource: string
  /** The PTZ node that its configuration names; null if it has no PTZ configuration. */
  node: string | null
  /** That configuration. */
  ptz: string
}

/** Of either media service, which name the parts of a profile differently. */
export function readProfiles({ body }: Message): MediaProfile[] {
  return children(child(body, 'GetProfilesResponse'), 'Profiles').map((p) => {
    const newer = child(p, 'Configurations')
    const encoder = newer ? child(newer, 'VideoEncoder') : child(p, 'VideoEncoderConfiguration')
    const source = newer ? child(newer, 'VideoSource') : child(p, 'VideoSourceConfiguration')
    const ptz = newer ? child(newer, 'PTZ') : child(p, 'PTZConfiguration')
    return {
      token: attribute(p, 'token'),
      width: number(textOf(encoder, 'Resolution', 'Width')) ?? 0,
      height: number(textOf(encoder, 'Resolution', 'Height')) ?? 0,
      videoSource: textOf(source, 'SourceToken'),
      node: ptz ? textOf(ptz, 'NodeToken') : null,
      ptz: attribute(ptz, 'token'),
    }
  })
}

export interface Range {
  min: number
  max: number
}

/** What a PTZ node offers: its spaces, their ranges, and whether its positions are degrees. */
export interface PtzNode {
  token: string
  pan: Range
  tilt: Range
  zoom: Range
  /** The space of positions that is used; empty if it names none. */
  panTiltSpace: string
  zoomSpace: string
  /** The spaces of speeds, as shares of the top speeds; empty if it names none. */
  speedSpace: string
  zoomSpeedSpace: string
  degrees: boolean
  absolute: boolean
  /** It can be told a speed of its zoom. */
  zoomSpeed: boolean
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

const isDegrees = (space: string) => space.includes('SphericalPositionSpaceDegrees')
const isGeneric = (space: string) => space.includes('PositionGenericSpace')

const isSpeedShare = (space: string) => space.includes('VelocityGenericSpace')

export function readNodes({ body }: Message): PtzNode[] {
  return children(child(body, 'GetNodesResponse'), 'PTZNode').map((node) => ({
    token: attribute(node, 'token'),
    ...spacesIn(child(node, 'SupportedPTZSpaces')),
    home: textOf(node, 'HomeSupported') === 'true',
    presets: number(textOf(node, 'MaximumNumberOfPresets')) ?? 0,
  }))
}

/** Of a device that does not tell its nodes. */
export function readPtzOptions({ body }: Message): PtzNode | null {
  const spaces = child(body, 'GetConfigurationOptionsResponse', 'PTZConfigurationOptions', 'Spaces')
  return spaces ? { token: '', ...spacesIn(spaces), home: false, presets: 0 } : null
}

function spacesIn(spaces: Node | undefined): Omit<PtzNode, 'token' | 'home' | 'presets'> {
  const absolute = children(spaces, 'AbsolutePanTiltPositionSpace')
  const zooms = children(spaces, 'AbsoluteZoomPositionSpace')
  const generic = absolute.find((s) => isGeneric(textOf(s, 'URI'))) ?? absolute[0]
  const has = (name: string) => spaces?.[name] !== undefined
  // The default may be another, as degrees in a second.
  const shareOf = (name: string) =>
    children(spaces, name)
      .map((s) => textOf(s, 'URI'))
      .find(isSpeedShare) ?? ''
  return {
    pan: rangeOf(generic, 'XRange', NORMALISED),
    tilt: rangeOf(generic, 'YRange', NORMALISED),
    zoom: rangeOf(zooms[0], 'XRange', UNIT),
    panTiltSpace: textOf(generic, 'URI'),
    zoomSpace: textOf(zooms[0], 'URI'),
    speedSpace: shareOf('ContinuousPanTiltVelocitySpace'),
    zoomSpeedSpace: shareOf('ContinuousZoomVelocitySpace'),
    degrees: isDegrees(textOf(generic, 'URI')),
    absolute: absolute.length > 0,
    // A node that lists no speeds at all says nothing of them.
    zoomSpeed: has('ContinuousZoomVelocitySpace') || !has('ContinuousPanTiltVelocitySpace'),
  }
}

export interface PtzStatus {
  pan: number | null
  tilt: number | null
  zoom: number | null
  /** In what pan and tilt are told: degrees, the node's own space, or one that is not known here. */
  told: 'degrees' | 'node' | 'strange'
  /** Null if the device does not report it. */
  moving: boolean | null
}

/** @param space the space of positions that is used with this device */
export function readStatus({ body }: Message, space = ''): PtzStatus {
  const status = child(body, 'GetStatusResponse', 'PTZStatus')
  const at = child(status, 'Position')
  const moves = [textOf(status, 'MoveStatus', 'PanTilt'), textOf(status, 'MoveStatus', 'Zoom')]
  const named = attribute(child(at, 'PanTilt'), 'space')
  const known = named === '' || space === '' || named === space || isGeneric(named)
  return {
    pan: number(attribute(child(at, 'PanTilt'), 'x')),
    tilt: number(attribute(child(at, 'PanTilt'), 'y')),
    zoom: number(attribute(child(at, 'Zoom'), 'x')),
    told: isDegrees(named) ? 'degrees' : known ? 'node' : 'strange',
    moving: moves.every((m) => m === '') ? null : moves.includes('MOVING'),
  }
}

/** Of either media service. */
export const readStreamUri = ({ body }: Message) =>
  textOf(body, 'GetStreamUriResponse', 'MediaUri', 'Uri') || textOf(body, 'GetStreamUriResponse', 'Uri')

export const readSnapshotUri = ({ body }: Message) =>
  textOf(body, 'GetSnapshotUriResponse', 'MediaUri', 'Uri') || textOf(body, 'GetSnapshotUriResponse', 'Uri')

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
