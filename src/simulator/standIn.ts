/** One stand-in camera: a body, its VISCA port and its picture. */
import type { HeadProfile } from '../core/heads/profile'
import type { Vec3 } from '../core/optics/sphere'
import { focusFor } from './body/focus'
import { Head } from './body/head'
import { PictureServer } from './picture/pictureServer'
import type { Renderer } from './picture/renderer'
import { type Faults, NO_FAULTS } from './protocol/faults'
import { UdpCamera } from './protocol/udpCamera'
import { distanceAlong, type Shot } from './scene/render'

export interface StandInSpec {
  id: string
  host: string
  viscaPort: number
  picturePort: number
  /** Where the lens hangs in the barn, metres, and which way pan 0 points, degrees. */
  eye: Vec3
  yawDeg: number
  start: { panDeg: number; tiltDeg: number; zoom: number }
}

export interface Truth {
  id: string
  panDeg: number
  tiltDeg: number
  zoomPos: number
  hfovDeg: number
  focusMode: 'auto' | 'manual'
  power: boolean
  moving: boolean
  tallyLamp: boolean
}

const F_NUMBER = 3.2
const NEARER = 0xc000 - 0x1000

/** Diameter of the blur disc in pixels of a 640 wide picture, for a thin lens off its focus. */
function blurPx(head: Head, distanceM: number): number {
  const dioptres = Math.abs(head.focus.position - focusFor(distanceM)) / NEARER
  const f = head.lens.focalMm(head.zoom.position)
  return ((((f * f) / F_NUMBER) * (dioptres / 1000)) / head.profile.lens.sensorWidthMm) * 640
}

export class StandIn {
  readonly head: Head
  private readonly visca: UdpCamera
  private readonly pictures: PictureServer

  constructor(
    readonly spec: StandInSpec,
    profile: HeadProfile,
    renderer: Renderer,
  ) {
    const far = (pan: number, tilt: number) => distanceAlong(spec.eye, spec.yawDeg, pan, tilt)
    this.head = new Head(profile, spec.start, far, performance.now())
    this.visca = new UdpCamera(this.head)
    this.pictures = new PictureServer(renderer, () => this.shot(far), 15)
  }

  async listen(): Promise<void> {
    await this.visca.listen(this.spec.host, this.spec.viscaPort)
    await this.pictures.listen(this.spec.host, this.spec.picturePort)
  }

  close(): void {
    this.visca.close()
    this.pictures.close()
  }

  setFaults(faults: Faults = NO_FAULTS): void {
    this.visca.setFaults(faults)
    this.pictures.frozen = faults.mute
  }

  truth(): Truth {
    const { head } = this
    head.advance(performance.now())
    return {
      id: this.spec.id,
      panDeg: head.pan.position,
      tiltDeg: head.tilt.position,
      zoomPos: head.zoom.position,
      hfovDeg: head.hfovDeg,
      focusMode: head.focus.auto ? 'auto' : 'manual',
      power: head.power,
      moving: head.moving,
      tallyLamp: head.tallyLamp,
    }
  }

  private shot(far: (pan: number, tilt: number) => number): Shot {
    const { head, spec } = this
    const now = performance.now()
    head.advance(now)
    const [panDeg, tiltDeg] = [head.pan.position, head.tilt.position]
    return {
      eye: spec.eye,
      yawDeg: spec.yawDeg,
      panDeg,
      tiltDeg,
      hfovDeg: head.hfovDeg,
      blurPx: blurPx(head, far(panDeg, tiltDeg)),
      atS: now / 1000,
      power: head.power,
    }
  }
}
