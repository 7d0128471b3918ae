/**
 * The ONVIF of such a camera: texts of requests in, texts of answers out, with the oddities that are met in the
 * field as switches. Written from the standard's own names; it shares nothing with the application. No I/O.
 */
import { createHash } from 'node:crypto'
import type { FieldHead } from './fieldHead'

export interface OnvifOddities {
  /** Positions are degrees unless a request names another space. */
  spherical: boolean
  /** A node of something else stands before the one of the head. */
  secondNode: boolean
  noAbsoluteMove: boolean
  /** A move that names a time limit is refused. */
  noTimeout: boolean
  /** It knows no speed of its zoom, and refuses a move that has one. */
  noZoomVelocity: boolean
  /** GetCapabilities tells no media; GetServices tells the newer one. */
  media2Only: boolean
  status: 'all' | 'no positions' | 'no zoom' | 'no move status' | 'refused'
  imaging: 'works' | 'broken' | 'no focus' | 'none'
  /** Profiles without an encoder, and of 0 by 0, stand before the right one. */
  emptyProfiles: boolean
  /** The addresses that it tells are those of another network. */
  tellsOtherHost: boolean
  /** Speeds are degrees a second unless a request names another space. */
  speedsInDegrees: boolean
  /** It does not tell its nodes, only what its configuration can be. */
  noNodes: boolean
  /** A login in the envelope is asked for, even for the time. */
  loginForTime: boolean
}

export const PLAIN_ONVIF: OnvifOddities = {
  spherical: false,
  secondNode: false,
  noAbsoluteMove: false,
  noTimeout: false,
  noZoomVelocity: false,
  media2Only: false,
  status: 'all',
  imaging: 'works',
  emptyProfiles: false,
  tellsOtherHost: false,
  speedsInDegrees: false,
  noNodes: false,
  loginForTime: false,
}

/** What asks a camera only once, when it is set up. */
export const SETS_UP =
  /:?Get(Capabilities|Services|Profiles|Nodes|ConfigurationOptions|StreamUri|DeviceInformation)\b/

const D = 'http://www.onvif.org/ver10/device/wsdl'
const M1 = 'http://www.onvif.org/ver10/media/wsdl'
const M2 = 'http://www.onvif.org/ver20/media/wsdl'
const P = 'http://www.onvif.org/ver20/ptz/wsdl'
const I = 'http://www.onvif.org/ver20/imaging/wsdl'
const S = 'http://www.onvif.org/ver10/schema'
const SPACE = 'http://www.onvif.org/ver10/tptz'
const GENERIC = `${SPACE}/PanTiltSpaces/PositionGenericSpace`
const DEGREES = `${SPACE}/PanTiltSpaces/SphericalPositionSpaceDegrees`
const DEGREES_A_SECOND = `${SPACE}/PanTiltSpaces/VelocitySpaceDegrees`
const ZOOM = `${SPACE}/ZoomSpaces/PositionGenericSpace`

const PATHS: Record<string, string> = {
  [D]: '/onvif/device_service',
  [M1]: '/m1',
  [M2]: '/m2',
  [P]: '/p',
  [I]: '/i',
}

export interface OnvifAnswer {
  status: number
  text: string
}

class Fault extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    readonly subcode: string,
  ) {
    super(subcode)
  }
}
const invalid = () => new Fault(400, 'Sender', 'ter:InvalidArgVal')
const unknown = () => new Fault(500, 'Receiver', 'ter:ActionNotSupported')

const wrap = (inside: string) =>
  `<?xml version="1.0"?><env:Envelope xmlns:env="http://www.w3.org/2003/05/soap-envelope" xmlns:a="${D}" xmlns:b="${M1}" xmlns:c="${M2}" xmlns:p="${P}" xmlns:i="${I}" xmlns:o="${S}" xmlns:ter="http://www.onvif.org/ver10/error"><env:Body>${inside}</env:Body></env:Envelope>`

/** The text of an element; null if it is not there. */
const element = (xml: string, name: string): string | null =>
  new RegExp(`<(?:\\w+:)?${name}\\b[^>]*>([\\s\\S]*?)</(?:\\w+:)?${name}>`).exec(xml)?.[1] ?? null
/** The attributes of an element. */
const tag = (xml: string, name: string): string | null =>
  new RegExp(`<(?:\\w+:)?${name}\\b([^>]*)>`).exec(xml)?.[1] ?? null
const attribute = (text: string | null, name: string): string | null =>
  text === null ? null : (new RegExp(`\\b${name}="([^"]*)"`).exec(text)?.[1] ?? null)
const range = (name: string, [min, max]: readonly [number, number]) =>
  `<o:${name}><o:Min>${min}</o:Min><o:Max>${max}</o:Max></o:${name}>`

export class FieldOnvif {
  readonly oddities: OnvifOddities
  private stopAtMs: number | null = null
  private auto = true
  private readonly presets = new Map<string, { name: string; slot: number }>()
  private exposure = 'AUTO'

  constructor(
    readonly head: FieldHead,
    private readonly base: string,
    /** Null where no login stands in its envelopes. */
    private readonly login: { user: string; password: string } | null,
    oddities: Partial<OnvifOddities> = {},
  ) {
    this.oddities = { ...PLAIN_ONVIF, ...oddities }
  }

  receive(path: string, xml: string, nowMs: number): OnvifAnswer {
    try {
      return { status: 200, text: wrap(this.obey(path, xml, nowMs)) }
    } catch (error) {
      const { status, code, subcode } =
        error instanceof Fault ? error : new Fault(500, 'Receiver', 'ter:Action')
      const fault = `<env:Fault><env:Code><env:Value>env:${code}</env:Value><env:Subcode><env:Value>${subcode}</env:Value></env:Subcode></env:Code><env:Reason><env:Text xml:lang="en">${subcode}</env:Text></env:Reason></env:Fault>`
      return { status, text: wrap(fault) }
    }
  }

  /** Its own dead-man. */
  poll(nowMs: number): void {
    if (this.stopAtMs === null || nowMs < this.stopAtMs) return
    this.stopAtMs = null
    this.head.driveShares(0, 0, 0, nowMs)
  }

  private obey(path: string, xml: string, nowMs: number): string {
    this.poll(nowMs)
    const found = /<(?:\w+:)?Body[^>]*>\s*<(?:(\w+):)?(\w+)/.exec(xml)
    if (!found) throw new Fault(400, 'Sender', 'ter:WellFormed')
    const [, prefix, name] = found
    const space = new RegExp(`xmlns${prefix ? `:${prefix}` : ''}="([^"]*)"`).exec(xml)?.[1] ?? ''
    if (PATHS[space] !== path) throw unknown()
    if (name !== 'GetSystemDateAndTime' || this.oddities.loginForTime) this.checkLogin(xml)
    const body = xml.slice(found.index)
    switch (space) {
      case D:
        return this.device(name!)
      case P:
        return this.ptz(name!, body, nowMs)
      case I:
        return this.imaging(name!, body)
      default:
        if ((space === M2) !== this.oddities.media2Only) throw unknown()
        return this.media(name!, space === M2 ? 'c' : 'b')
    }
  }

  private checkLogin(xml: string): void {
    if (!this.login) return
    const [user, digest, nonce, created] = ['Username', 'Password', 'Nonce', 'Created'].map((n) =>
      element(xml, n),
    )
    if (!user || !digest || !nonce || !created) throw new Fault(400, 'Sender', 'ter:NotAuthorized')
    const expected = createHash('sha1')
      .update(Buffer.concat([Buffer.from(nonce, 'base64'), Buffer.from(created + this.login.password)]))
      .digest('base64')
    if (user !== this.login.user || digest !== expected) throw new Fault(400, 'Sender', 'ter:NotAuthorized')
  }

  private device(name: string): string {
    const { media2Only, imaging } = this.oddities
    const at = (space: string) => `${this.toldBase}${PATHS[space]}`
    const spaces = [D, media2Only ? M2 : M1, P, ...(imaging === 'none' ? [] : [I])]
    const now = new Date()
    switch (name) {
      case 'GetSystemDateAndTime':
        return `<a:GetSystemDateAndTimeResponse><a:SystemDateAndTime><o:DateTimeType>NTP</o:DateTimeType><o:UTCDateTime><o:Time><o:Hour>${now.getUTCHours()}</o:Hour><o:Minute>${now.getUTCMinutes()}</o:Minute><o:Second>${now.getUTCSeconds()}</o:Second></o:Time><o:Date><o:Year>${now.getUTCFullYear()}</o:Year><o:Month>${now.getUTCMonth() + 1}</o:Month><o:Day>${now.getUTCDate()}</o:Day></o:Date></o:UTCDateTime></a:SystemDateAndTime></a:GetSystemDateAndTimeResponse>`
      case 'GetDeviceInformation':
        return '<a:GetDeviceInformationResponse><a:Manufacturer>Field</a:Manufacturer><a:Model>One</a:Model></a:GetDeviceInformationResponse>'
      case 'GetCapabilities': {
        const one = (element: string, space: string) =>
          spaces.includes(space) ? `<o:${element}><o:XAddr>${at(space)}</o:XAddr></o:${element}>` : ''
        return `<a:GetCapabilitiesResponse><a:Capabilities>${one('Imaging', I)}${one('Media', M1)}${one('PTZ', P)}</a:Capabilities></a:GetCapabilitiesResponse>`
      }
      case 'GetServices':
        return `<a:GetServicesResponse>${spaces.map((s) => `<a:Service><a:Namespace>${s}</a:Namespace><a:XAddr>${at(s)}</a:XAddr></a:Service>`).join('')}</a:GetServicesResponse>`
      default:
        throw unknown()
    }
  }

  private get toldBase(): string {
    return this.oddities.tellsOtherHost ? this.base.replace(/\/\/[^:]+/, '//10.255.0.9') : this.base
  }

  private media(name: string, p: 'b' | 'c'): string {
    const host = name === 'GetStreamUri' ? this.toldBase.replace(/^https?/, 'rtsp') : this.toldBase
    const newer = p === 'c'
    const profile = (token: string, width: number, whole: boolean) => {
      const size = `<o:Resolution><o:Width>${width}</o:Width><o:Height>${(width * 9) / 16}</o:Height></o:Resolution>`
      const source = '<o:SourceToken>v1</o:SourceToken>'
      const node = '<o:NodeToken>n1</o:NodeToken>'
      const inside = newer
        ? `<c:Configurations><c:VideoSource token="s">${source}</c:VideoSource>${whole ? `<c:VideoEncoder token="e">${size}</c:VideoEncoder><c:PTZ token="z">${node}</c:PTZ>` : ''}</c:Configurations>`
        : `<o:VideoSourceConfiguration token="s">${source}</o:VideoSourceConfiguration>${whole ? `<o:VideoEncoderConfiguration token="e">${size}</o:VideoEncoderConfiguration><o:PTZConfiguration token="z">${node}</o:PTZConfiguration>` : ''}`
      return `<${p}:Profiles token="${token}"><o:Name>${token}</o:Name>${inside}</${p}:Profiles>`
    }
    const empty = this.oddities.emptyProfiles ? profile('none', 0, false) + profile('nothing', 0, true) : ''
    switch (name) {
      case 'GetProfiles':
        return `<${p}:GetProfilesResponse>${empty}${profile('main', 640, true)}</${p}:GetProfilesResponse>`
      case 'GetStreamUri':
      case 'GetSnapshotUri':
        return newer
          ? `<c:${name}Response><c:Uri>${host}/x</c:Uri></c:${name}Response>`
          : `<b:${name}Response><b:MediaUri><o:Uri>${host}/x</o:Uri></b:MediaUri></b:${name}Response>`
      default:
        throw unknown()
    }
  }

  private spaces(): string {
    const { noAbsoluteMove, noZoomVelocity, speedsInDegrees } = this.oddities
    const { panEnds, tiltEnds } = this.head.traits
    const plane = (
      element: string,
      uri: string,
      x: readonly [number, number],
      y: readonly [number, number],
    ) => `<o:${element}><o:URI>${uri}</o:URI>${range('XRange', x)}${range('YRange', y)}</o:${element}>`
    const line = (element: string, uri: string, x: readonly [number, number]) =>
      `<o:${element}><o:URI>${uri}</o:URI>${range('XRange', x)}</o:${element}>`
    const absolute = noAbsoluteMove
      ? ''
      : plane('AbsolutePanTiltPositionSpace', DEGREES, panEnds, tiltEnds) +
        (this.oddities.spherical ? '' : plane('AbsolutePanTiltPositionSpace', GENERIC, [-1, 1], [-1, 1])) +
        line('AbsoluteZoomPositionSpace', ZOOM, [0, 1])
    const speeds =
      (speedsInDegrees
        ? plane('ContinuousPanTiltVelocitySpace', DEGREES_A_SECOND, [-90, 90], [-90, 90])
        : '') +
      plane(
        'ContinuousPanTiltVelocitySpace',
        `${SPACE}/PanTiltSpaces/VelocityGenericSpace`,
        [-1, 1],
        [-1, 1],
      ) +
      (noZoomVelocity
        ? ''
        : line('ContinuousZoomVelocitySpace', `${SPACE}/ZoomSpaces/VelocityGenericSpace`, [-1, 1]))
    return absolute + speeds
  }

  private nodes(): string {
    const other = this.oddities.secondNode
      ? '<p:PTZNode token="n0"><o:Name>Other</o:Name><o:SupportedPTZSpaces/><o:MaximumNumberOfPresets>0</o:MaximumNumberOfPresets><o:HomeSupported>false</o:HomeSupported></p:PTZNode>'
      : ''
    return `<p:GetNodesResponse>${other}<p:PTZNode token="n1"><o:Name>Head</o:Name><o:SupportedPTZSpaces>${this.spaces()}</o:SupportedPTZSpaces><o:MaximumNumberOfPresets>32</o:MaximumNumberOfPresets><o:HomeSupported>true</o:HomeSupported></p:PTZNode></p:GetNodesResponse>`
  }

  private ptz(name: string, xml: string, nowMs: number): string {
    const { noAbsoluteMove, noTimeout, noZoomVelocity } = this.oddities
    const done = `<p:${name}Response/>`
    if (name === 'GetNodes' && !this.oddities.noNodes) return this.nodes()
    if (name === 'GetConfigurationOptions')
      return `<p:${name}Response><p:PTZConfigurationOptions><o:Spaces>${this.spaces()}</o:Spaces></p:PTZConfigurationOptions></p:${name}Response>`
    if (element(xml, 'ProfileToken') !== 'main') throw new Fault(400, 'Sender', 'ter:NoProfile')
    const panTilt = tag(xml, 'PanTilt')
    const zoom = tag(xml, 'Zoom')
    const [x, y, z] = [attribute(panTilt, 'x'), attribute(panTilt, 'y'), attribute(zoom, 'x')].map((text) =>
      text === null ? null : Number(text),
    ) as [number | null, number | null, number | null]
    switch (name) {
      case 'GetStatus':
        return this.status(nowMs)
      case 'ContinuousMove': {
        const timeout = element(xml, 'Timeout')
        if ((noTimeout && timeout !== null) || (noZoomVelocity && z !== null)) throw invalid()
        if ([x, y, z].some((v) => v !== null && !(Math.abs(v) <= 1))) throw invalid()
        const degrees =
          this.oddities.speedsInDegrees && !attribute(panTilt, 'space')?.endsWith('VelocityGenericSpace')
        const share = (v: number | null) => (v === null ? null : degrees ? v / 90 : v)
        this.head.driveShares(share(x), share(y), z, nowMs)
        const seconds = Number(/PT([\d.]+)S/.exec(timeout ?? '')?.[1] ?? 60)
        this.stopAtMs = nowMs + seconds * 1000
        return done
      }
      case 'Stop':
        this.stopAtMs = null
        this.head.driveShares(0, 0, 0, nowMs)
        return done
      case 'AbsoluteMove': {
        if (noAbsoluteMove) throw unknown()
        this.absolute(x, y, z, attribute(panTilt, 'space'), nowMs)
        return done
      }
      case 'GotoHomePosition':
        this.head.travel(0, 0, 0, nowMs)
        return done
      default:
        return this.preset(name, xml, nowMs)
    }
  }

  private absolute(
    x: number | null,
    y: number | null,
    z: number | null,
    named: string | null,
    nowMs: number,
  ): void {
    const space = named ?? (this.oddities.spherical ? DEGREES : GENERIC)
    if (space !== DEGREES && (space !== GENERIC || this.oddities.spherical)) throw invalid()
    const { panEnds, tiltEnds } = this.head.traits
    const at = (v: number | null, [min, max]: readonly [number, number]) =>
      v === null || space === DEGREES ? v : min + ((v + 1) / 2) * (max - min)
    const [pan, tilt] = [at(x, panEnds), at(y, tiltEnds)]
    const outside = (v: number | null, [min, max]: readonly [number, number]) =>
      v !== null && (v < min || v > max)
    if (outside(pan, panEnds) || outside(tilt, tiltEnds) || outside(z, [0, 1])) throw invalid()
    this.stopAtMs = null
    this.head.travel(pan, tilt, z, nowMs)
  }

  private preset(name: string, xml: string, nowMs: number): string {
    const token = element(xml, 'PresetToken')
    switch (name) {
      case 'GetPresets':
        return `<p:GetPresetsResponse>${[...this.presets].map(([t, { name: n }]) => `<p:Preset token="${t}"><o:Name>${n}</o:Name></p:Preset>`).join('')}</p:GetPresetsResponse>`
      case 'SetPreset': {
        const slot = (token && this.presets.get(token)?.slot) || this.presets.size + 1
        this.head.keep(slot)
        this.presets.set(`t${slot}`, { name: element(xml, 'PresetName') ?? '', slot })
        return `<p:SetPresetResponse><p:PresetToken>t${slot}</p:PresetToken></p:SetPresetResponse>`
      }
      case 'GotoPreset': {
        const preset = this.presets.get(token ?? '')
        if (!preset || !this.head.recall(preset.slot, nowMs)) throw new Fault(400, 'Sender', 'ter:NoToken')
        return '<p:GotoPresetResponse/>'
      }
      default:
        throw unknown()
    }
  }

  private status(nowMs: number): string {
    const { status, spherical } = this.oddities
    if (status === 'refused') throw unknown()
    const { panEnds, tiltEnds } = this.head.traits
    const told = this.head.reportDegrees(nowMs)
    const share = (v: number, [min, max]: readonly [number, number]) => (2 * (v - min)) / (max - min) - 1
    const [x, y] = spherical ? [told.pan, told.tilt] : [share(told.pan, panEnds), share(told.tilt, tiltEnds)]
    const zoom = status === 'no zoom' ? '' : `<o:Zoom x="${told.zoom.toFixed(5)}" space="${ZOOM}"/>`
    const position =
      status === 'no positions'
        ? ''
        : `<o:Position><o:PanTilt x="${x!.toFixed(5)}" y="${y!.toFixed(5)}" space="${spherical ? DEGREES : GENERIC}"/>${zoom}</o:Position>`
    const word = this.head.busy ? 'MOVING' : 'IDLE'
    const move =
      status === 'no move status'
        ? ''
        : `<o:MoveStatus><o:PanTilt>${word}</o:PanTilt><o:Zoom>${word}</o:Zoom></o:MoveStatus>`
    return `<p:GetStatusResponse><p:PTZStatus>${position}${move}<o:UtcTime>${new Date().toISOString()}</o:UtcTime></p:PTZStatus></p:GetStatusResponse>`
  }

  private imaging(name: string, xml: string): string {
    const { imaging } = this.oddities
    if (imaging === 'broken') throw new Fault(500, 'Receiver', 'ter:HardwareFailure')
    const focus = imaging !== 'no focus'
    switch (name) {
      case 'GetImagingSettings':
        return `<i:GetImagingSettingsResponse><i:ImagingSettings><o:Exposure><o:Mode>${this.exposure}</o:Mode></o:Exposure>${focus ? `<o:Focus><o:AutoFocusMode>${this.auto ? 'AUTO' : 'MANUAL'}</o:AutoFocusMode></o:Focus>` : ''}</i:ImagingSettings></i:GetImagingSettingsResponse>`
      case 'SetImagingSettings': {
        const mode = element(xml, 'AutoFocusMode')
        if (mode !== null && !focus) throw invalid()
        if (mode !== null) this.auto = mode === 'AUTO'
        return '<i:SetImagingSettingsResponse/>'
      }
      case 'GetStatus':
        return `<i:GetStatusResponse><i:Status>${focus ? '<o:FocusStatus20><o:Position>0.5</o:Position></o:FocusStatus20>' : ''}</i:Status></i:GetStatusResponse>`
      case 'Move':
      case 'Stop':
        if (!focus) throw unknown()
        return `<i:${name}Response/>`
      default:
        throw unknown()
    }
  }
}
