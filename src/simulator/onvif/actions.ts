/** What the PTZ and imaging requests of ONVIF do to a stand-in's body, and what they answer. */
import { topSpeed } from '../../core/heads/profile'
import { child, escapeXml, type Node, textOf } from '../../core/onvif/soap'
import type { Head } from '../body/head'
import { REAL_TIME, type Time } from '../time'
import { focusStatus, imagingOptions, imagingSettings, moveOptions, setImagingSettings } from './imaging'
import { LONGEST_MOVE_S, POSITION_SPACES, ptzAnswer } from './ptzAnswers'

type Result = string | 'unknown' | 'invalid'
type Place = { pan: number; tilt: number; zoom: number }

const done = (service: string, name: string) => `<${service}:${name}Response/>`
const attribute = (node: Node | undefined, name: string): number => {
  const value = node?.[`@${name}`]
  return typeof value === 'string' ? Number(value) : Number.NaN
}
export class OnvifActions {
  private forgetStop: () => void = () => {}
  private made = 0
  private readonly presets = new Map<string, { name: string; slot: number }>()

  private home: Place

  constructor(
    private readonly head: Head,
    private readonly time: Time = REAL_TIME,
  ) {
    this.home = { pan: 0, tilt: 0, zoom: head.lens.wide }
  }

  /** @returns the answer's XML */
  ptz(name: string, request: Node): Result {
    switch (name) {
      case 'GetStatus':
        return this.status()
      case 'ContinuousMove':
        return this.continuous(request)
      case 'Stop':
        return this.stop(request)
      case 'AbsoluteMove':
        return this.absolute(child(request, 'Position'))
      case 'RelativeMove':
        return this.relative(child(request, 'Translation'))
      case 'GotoHomePosition':
        this.goTo(this.home.pan, this.home.tilt, this.home.zoom)
        return done('tptz', name)
      case 'SetHomePosition': {
        const { pan, tilt, zoom } = this.head
        this.home = { pan: pan.position, tilt: tilt.position, zoom: zoom.position }
        return done('tptz', name)
      }
      case 'GetPresets':
      case 'SetPreset':
      case 'GotoPreset':
      case 'RemovePreset':
        return this.preset(name, request)
      default:
        return ptzAnswer(name, this.head.profile.memories) ?? 'unknown'
    }
  }

  /** @returns the answer's XML */
  imaging(name: string, request: Node): Result {
    switch (name) {
      case 'GetServiceCapabilities':
        return '<timg:GetServiceCapabilitiesResponse><timg:Capabilities ImageStabilization="false"/></timg:GetServiceCapabilitiesResponse>'
      case 'GetStatus':
        return focusStatus(this.head)
      case 'GetOptions':
        return imagingOptions(this.head)
      case 'GetMoveOptions':
        return moveOptions()
      case 'GetImagingSettings':
        return imagingSettings(this.head)
      case 'SetImagingSettings':
        return setImagingSettings(this.head, child(request, 'ImagingSettings'))
          ? done('timg', name)
          : 'invalid'
      case 'Move':
        return this.moveFocus(child(request, 'Focus'))
      case 'Stop':
        this.head.focus.drive(0, 0)
        return done('timg', name)
      default:
        return 'unknown'
    }
  }

  private ends() {
    const { pan, tilt } = this.head.profile
    const { wide, tele } = this.head.lens
    return { pan, tilt, wide, tele }
  }

  private status(): string {
    const { head } = this
    const { pan, tilt, wide, tele } = this.ends()
    const share = (x: number, a: number, b: number) => (x - a) / (b - a)
    const x = 2 * share(head.pan.position, pan.minDeg, pan.maxDeg) - 1
    const y = 2 * share(head.tilt.position, tilt.minDeg, tilt.maxDeg) - 1
    const z = share(head.zoom.position, wide, tele)
    const word = (moving: boolean) => (moving ? 'MOVING' : 'IDLE')
    return `<tptz:GetStatusResponse><tptz:PTZStatus><tt:Position><tt:PanTilt x="${x.toFixed(6)}" y="${y.toFixed(6)}" space="${POSITION_SPACES.panTilt}"/><tt:Zoom x="${z.toFixed(6)}" space="${POSITION_SPACES.zoom}"/></tt:Position><tt:MoveStatus><tt:PanTilt>${word(head.pan.moving || head.tilt.moving)}</tt:PanTilt><tt:Zoom>${word(head.zoom.moving)}</tt:Zoom></tt:MoveStatus><tt:UtcTime>${new Date().toISOString()}</tt:UtcTime></tptz:PTZStatus></tptz:GetStatusResponse>`
  }

  /** Without a word of what, all stops. */
  private stop(request: Node): string {
    const wants = (what: string) => textOf(request, what) !== 'false'
    this.halt(wants('PanTilt'), wants('Zoom'))
    return done('tptz', 'Stop')
  }

  private halt(panTilt = true, zoom = true): void {
    const { head } = this
    if (panTilt && zoom) this.forgetStop()
    for (const axis of [...(panTilt ? [head.pan, head.tilt] : []), ...(zoom ? [head.zoom] : [])])
      axis.drive(0)
  }

  private continuous(request: Node): Result {
    const velocity = child(request, 'Velocity')
    const panTilt = child(velocity, 'PanTilt')
    const zoom = child(velocity, 'Zoom')
    const [x, y, z] = [attribute(panTilt, 'x'), attribute(panTilt, 'y'), attribute(zoom, 'x')]
    if ([x, y, z].some((v) => Math.abs(v) > 1)) return 'invalid'
    const { head } = this
    if (panTilt) {
      head.pan.drive((Number.isNaN(x) ? 0 : x) * topSpeed(head.profile.pan))
      head.tilt.drive((Number.isNaN(y) ? 0 : y) * topSpeed(head.profile.tilt))
    }
    if (zoom) head.zoom.drive((Number.isNaN(z) ? 0 : z) * head.profile.zoomSpeedsPerSec[7]!)
    const seconds = Number(/^PT([\d.]+)S$/.exec(textOf(request, 'Timeout'))?.[1] ?? 0)
    this.forgetStop()
    // The device's own dead-man.
    this.forgetStop = this.time.after(1000 * (seconds > 0 ? seconds : LONGEST_MOVE_S), () => this.halt())
    return done('tptz', 'ContinuousMove')
  }

  private absolute(position: Node | undefined): Result {
    const panTilt = child(position, 'PanTilt')
    const zoom = child(position, 'Zoom')
    const { pan, tilt, wide, tele } = this.ends()
    const [x, y, z] = [attribute(panTilt, 'x'), attribute(panTilt, 'y'), attribute(zoom, 'x')]
    if ([x, y, z].some((v) => Math.abs(v) > 1)) return 'invalid'
    const axis = (v: number, a: typeof pan) => a.minDeg + ((v + 1) / 2) * (a.maxDeg - a.minDeg)
    this.goTo(
      panTilt ? axis(x, pan) : null,
      panTilt ? axis(y, tilt) : null,
      zoom ? wide + z * (tele - wide) : null,
    )
    return done('tptz', 'AbsoluteMove')
  }

  /** By shares of its whole range. */
  private relative(by: Node | undefined): Result {
    const panTilt = child(by, 'PanTilt')
    const zoom = child(by, 'Zoom')
    const { pan, tilt, wide, tele } = this.ends()
    const [x, y, z] = [attribute(panTilt, 'x'), attribute(panTilt, 'y'), attribute(zoom, 'x')]
    if ([x, y, z].some((v) => Math.abs(v) > 1)) return 'invalid'
    const { head } = this
    this.goTo(
      panTilt ? head.pan.position + (x / 2) * (pan.maxDeg - pan.minDeg) : null,
      panTilt ? head.tilt.position + (y / 2) * (tilt.maxDeg - tilt.minDeg) : null,
      zoom ? Math.min(tele, Math.max(wide, head.zoom.position + z * (tele - wide))) : null,
    )
    return done('tptz', 'RelativeMove')
  }

  private goTo(panDeg: number | null, tiltDeg: number | null, zoom: number | null): void {
    this.forgetStop()
    const { head } = this
    if (panDeg !== null) head.pan.goTo(panDeg, topSpeed(head.profile.pan))
    if (tiltDeg !== null) head.tilt.goTo(tiltDeg, topSpeed(head.profile.tilt))
    if (zoom !== null) head.zoom.goTo(zoom, head.profile.zoomTravelPerSec)
  }

  private preset(name: string, request: Node): Result {
    if (name === 'GetPresets') {
      const all = [...this.presets].map(
        ([token, p]) => `<tptz:Preset token="${token}"><tt:Name>${escapeXml(p.name)}</tt:Name></tptz:Preset>`,
      )
      return `<tptz:GetPresetsResponse>${all.join('')}</tptz:GetPresetsResponse>`
    }
    if (name === 'SetPreset') {
      const given = textOf(request, 'PresetToken')
      if (given && !this.presets.has(given)) return 'invalid'
      const slot = this.presets.get(given)?.slot ?? this.made++
      const token = `p${slot}`
      this.head.remember(slot)
      this.presets.set(token, { name: textOf(request, 'PresetName'), slot })
      return `<tptz:SetPresetResponse><tptz:PresetToken>${token}</tptz:PresetToken></tptz:SetPresetResponse>`
    }
    const preset = this.presets.get(textOf(request, 'PresetToken'))
    if (preset && name === 'RemovePreset') {
      this.presets.delete(`p${preset.slot}`)
      this.head.forget(preset.slot)
      return done('tptz', name)
    }
    if (!preset || !this.head.recall(preset.slot)) return 'invalid'
    return done('tptz', name)
  }

  private moveFocus(focus: Node | undefined): Result {
    const { head } = this
    const speed = Number(textOf(focus, 'Continuous', 'Speed') || Number.NaN)
    const position = Number(textOf(focus, 'Absolute', 'Position') || Number.NaN)
    if (head.focus.auto) return 'invalid'
    const { near, far } = head.profile.focus
    if (Math.abs(speed) <= 1) head.focus.drive(Math.sign(speed), Math.min(7, Math.floor(Math.abs(speed) * 8)))
    else if (position >= 0 && position <= 1) head.focus.goTo(far + position * (near - far))
    else return 'invalid'
    return done('timg', 'Move')
  }
}
