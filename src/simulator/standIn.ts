/** One stand-in camera: a body, where it hangs, its picture, and the ways in which it can be controlled. */

import type { HeadProfile } from '../core/heads/profile'
import { nearTurn } from '../core/optics/aim'
import { panTiltOf, type Vec3 } from '../core/optics/sphere'
import { focusFor } from './body/focus'
import { Head } from './body/head'
import { type Colour, LAMPS_KELVIN, type SceneLight } from './body/light'
import type { SubjectAt } from './body/subject'
import type { BarnHouse } from './house/house'
import type { ControlPort } from './protocol/controlPort'
import { type Faults, NO_FAULTS } from './protocol/faults'
import { HOST } from './scene/cast'
import { mounted } from './scene/mounted'
import { distanceAlong, lightWhere, type Shot } from './scene/render'

export interface StandInSpec {
  id: string
  profile: string
  host: string
  /** Where the lens hangs in the barn, metres, and which way pan 0 points, degrees. */
  eye: Vec3
  yawDeg: number
  /** Hung from a beam, with its picture turned in the camera. */
  upsideDown: boolean
  start: { panDeg: number; tiltDeg: number; zoom: number }
  picture: { width: number; height: number; perSec: number }
  /** Noise of the sensor, 0..1. */
  grain: number
  /** What its sensor makes of grey: red and blue beside green. */
  cast: Colour
  /** What it takes to think before it answers, ms. */
  answerMs: number
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
  following: boolean
  focusPos: number
  tallyLamp: boolean
  frozen: boolean
  /** Every setting of its picture, as its wire has it. */
  eye: Readonly<Record<string, number>>
  menuOpen: boolean
}

/** Whom a head follows that can: the host, at breast height. */
const SUBJECT: Vec3 = [HOST.at[0], HOST.at[1] + 1.1, HOST.at[2]]
const SUBJECT_HEIGHT_M = 1.8
/** How long it is away when it starts anew. */
const RESTART_MS = 2500
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
  readonly ports: ControlPort[] = []
  private faults: Faults = NO_FAULTS
  private bootTimer: ReturnType<typeof setTimeout> | null = null
  /** The picture that it keeps sending. */
  private held: Shot | null = null
  /** The lights and the scoreboard of its barn. */
  house: BarnHouse | null = null

  constructor(
    readonly spec: StandInSpec,
    profile: HeadProfile,
  ) {
    const far = (pan: number, tilt: number) =>
      distanceAlong(spec.eye, spec.yawDeg, this.sign * pan, this.sign * tilt)
    this.head = new Head(profile, spec.start, far, performance.now(), spec.cast)
    this.head.eye.scene = () => this.light()
    // Once its answer is out.
    this.head.eye.onRestart = () =>
      void setTimeout(() => this.cutPower({ ...this.faults, rebootMs: RESTART_MS }), 60)
    this.head.eye.onFreeze = (frozen) => {
      this.held = frozen ? this.seen() : null
    }
    this.head.subject.where = () => this.lookAt(SUBJECT, SUBJECT_HEIGHT_M)
  }

  async listen(): Promise<void> {
    for (const port of this.ports) await port.listen()
  }

  close(): void {
    if (this.bootTimer) clearTimeout(this.bootTimer)
    for (const port of this.ports) port.close()
  }

  get present(): boolean {
    return !this.faults.mute && this.bootTimer === null
  }

  setFaults(faults: Faults = NO_FAULTS): void {
    if (faults.rebootMs > 0) {
      this.cutPower(faults)
      return
    }
    this.faults = faults
    if (this.bootTimer === null) for (const port of this.ports) port.setFaults(faults)
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
      following: head.subject.on,
      focusPos: head.focus.position,
      tallyLamp: head.tallyLamp,
      frozen: head.eye.frozen,
      eye: head.eye.levels,
      menuOpen: head.menu.open,
    }
  }

  shot(): Shot {
    return this.held ?? this.seen()
  }

  private seen(): Shot {
    const { head, spec } = this
    const now = performance.now()
    head.advance(now)
    const { bumpPanDeg, bumpTiltDeg, bumpRollDeg } = this.faults
    const knock = { panDeg: bumpPanDeg, tiltDeg: bumpTiltDeg, rollDeg: bumpRollDeg }
    const { panDeg, tiltDeg, rollDeg } = mounted(
      this.sign * head.pan.position,
      this.sign * head.tilt.position,
      knock,
    )
    return {
      eye: spec.eye,
      yawDeg: spec.yawDeg,
      panDeg,
      tiltDeg,
      ...(rollDeg === 0 ? {} : { rollDeg }),
      hfovDeg: head.hfovDeg,
      blurPx: blurPx(head, distanceAlong(spec.eye, spec.yawDeg, panDeg, tiltDeg)),
      atS: now / 1000,
      power: head.power,
      grain: head.eye.grain(spec.grain),
      soft: head.eye.soft,
      tint: head.eye.tint,
      ...(head.menu.drawn ? { menu: head.menu.drawn } : {}),
      ...(this.house ? { house: this.house.state } : {}),
    }
  }

  /** What falls on its sensor. */
  private light(): SceneLight {
    const { head, spec, house } = this
    if (!house) return { stops: 0, kelvin: LAMPS_KELVIN }
    const turned = { panDeg: this.sign * head.pan.position, tiltDeg: this.sign * head.tilt.position }
    return lightWhere(house.state, { eye: spec.eye, yawDeg: spec.yawDeg, ...turned })
  }

  /** Where something in the barn is for this head. */
  private lookAt([x, y, z]: Vec3, heightM: number): SubjectAt {
    const [dx, dy, dz] = [x - this.spec.eye[0], y - this.spec.eye[1], z - this.spec.eye[2]]
    const at = panTiltOf([dx, dy, dz])
    return {
      panDeg: this.sign * nearTurn(at.panDeg - this.spec.yawDeg, 0),
      tiltDeg: this.sign * at.tiltDeg,
      heightDeg: (heightM / Math.hypot(dx, dy, dz)) * (180 / Math.PI),
    }
  }

  private get sign(): 1 | -1 {
    return this.spec.upsideDown ? -1 : 1
  }

  private cutPower(faults: Faults): void {
    for (const axis of [this.head.pan, this.head.tilt, this.head.zoom]) axis.drive(0)
    for (const port of this.ports) port.setFaults({ ...NO_FAULTS, mute: true })
    for (const port of this.ports) port.reboot()
    if (this.bootTimer) clearTimeout(this.bootTimer)
    this.bootTimer = setTimeout(() => {
      this.bootTimer = null
      this.head.boot()
      this.faults = { ...faults, rebootMs: 0 }
      for (const port of this.ports) port.setFaults(this.faults)
      // Powered: a camera on a chain tells that it is new.
      for (const port of this.ports) port.reboot()
    }, faults.rebootMs)
  }
}
