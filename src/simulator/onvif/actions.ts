/** What the PTZ and imaging requests of ONVIF do to a stand-in's body, and what they answer. */
import { topSpeed } from '../../core/heads/profile'
import { child, escapeXml, type Node, textOf } from '../../core/onvif/soap'
import type { Head } from '../body/head'
import { focusStatus, imagingSettings, setImagingSettings } from './imaging'

export const PROFILE = 'barn'
export const VIDEO_SOURCE = 'eye'
const GENERIC = 'http://www.onvif.org/ver10/tptz'
const LONGEST_MOVE_MS = 10_000

type Result = string | 'unknown' | 'invalid'

const done = (service: string, name: string) => `<${service}:${name}Response/>`
const attribute = (node: Node | undefined, name: string): number => {
  const value = node?.[`@${name}`]
  return typeof value === 'string' ? Number(value) : Number.NaN
}
const range = (name: string, min: number, max: number) =>
  `<tt:${name}><tt:Min>${min}</tt:Min><tt:Max>${max}</tt:Max></tt:${name}>`

export class OnvifActions {
  private stopTimer: ReturnType<typeof setTimeout> | null = null
  private readonly presets = new Map<string, { name: string; slot: number }>()

  constructor(private readonly head: Head) {}

  /** @returns the answer's XML */
  perform(name: string, request: Node): Result {
    switch (name) {
      case 'GetNodes':
        return this.nodes()
      case 'GetStatus':
        // The imaging service has one of its own too.
        return textOf(request, 'VideoSourceToken') === '' ? this.status() : focusStatus(this.head)
      case 'ContinuousMove':
        return this.continuous(request)
      case 'Stop':
        // The imaging service has a Stop of its own, for the focus.
        if (textOf(request, 'VideoSourceToken') !== '') {
          this.head.focus.drive(0, 0)
          return done('timg', name)
        }
        this.halt()
        return done('tptz', name)
      case 'AbsoluteMove':
        return this.absolute(child(request, 'Position'))
      case 'GotoHomePosition':
        this.goTo(0, 0, this.head.lens.wide)
        return done('tptz', name)
      case 'GetPresets':
      case 'SetPreset':
      case 'GotoPreset':
        return this.preset(name, request)
      case 'GetImagingSettings':
        return imagingSettings(this.head)
      case 'SetImagingSettings':
        return setImagingSettings(this.head, child(request, 'ImagingSettings'))
          ? done('timg', name)
          : 'invalid'
      case 'Move':
        return this.moveFocus(child(request, 'Focus'))
      default:
        return 'unknown'
    }
  }

  private nodes(): string {
    const generic = `<tt:AbsolutePanTiltPositionSpace><tt:URI>${GENERIC}/PanTiltSpaces/PositionGenericSpace</tt:URI>${range('XRange', -1, 1)}${range('YRange', -1, 1)}</tt:AbsolutePanTiltPositionSpace><tt:AbsoluteZoomPositionSpace><tt:URI>${GENERIC}/ZoomSpaces/PositionGenericSpace</tt:URI>${range('XRange', 0, 1)}</tt:AbsoluteZoomPositionSpace>`
    return `<tptz:GetNodesResponse><tptz:PTZNode token="node" FixedHomePosition="true"><tt:Name>Head</tt:Name><tt:SupportedPTZSpaces>${generic}</tt:SupportedPTZSpaces><tt:MaximumNumberOfPresets>${this.head.profile.memories}</tt:MaximumNumberOfPresets><tt:HomeSupported>true</tt:HomeSupported></tptz:PTZNode></tptz:GetNodesResponse>`
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
    return `<tptz:GetStatusResponse><tptz:PTZStatus><tt:Position><tt:PanTilt x="${x.toFixed(6)}" y="${y.toFixed(6)}"/><tt:Zoom x="${z.toFixed(6)}"/></tt:Position><tt:MoveStatus><tt:PanTilt>${word(head.pan.moving || head.tilt.moving)}</tt:PanTilt><tt:Zoom>${word(head.zoom.moving)}</tt:Zoom></tt:MoveStatus><tt:UtcTime>${new Date().toISOString()}</tt:UtcTime></tptz:PTZStatus></tptz:GetStatusResponse>`
  }

  private halt(): void {
    if (this.stopTimer) clearTimeout(this.stopTimer)
    this.stopTimer = null
    for (const axis of [this.head.pan, this.head.tilt, this.head.zoom]) axis.drive(0)
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
    if (this.stopTimer) clearTimeout(this.stopTimer)
    // The device's own dead-man.
    this.stopTimer = setTimeout(() => this.halt(), seconds > 0 ? seconds * 1000 : LONGEST_MOVE_MS)
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

  private goTo(panDeg: number | null, tiltDeg: number | null, zoom: number | null): void {
    if (this.stopTimer) clearTimeout(this.stopTimer)
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
      const slot = this.presets.get(given)?.slot ?? this.presets.size
      const token = `p${slot}`
      this.head.remember(slot)
      this.presets.set(token, { name: textOf(request, 'PresetName'), slot })
      return `<tptz:SetPresetResponse><tptz:PresetToken>${token}</tptz:PresetToken></tptz:SetPresetResponse>`
    }
    const preset = this.presets.get(textOf(request, 'PresetToken'))
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
