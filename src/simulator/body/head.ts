/** The body of a stand-in camera: head, lens, focus, power and memories. Angles in degrees. */
import { controlsOf } from '../../core/heads/pictureControls'
import { type HeadProfile, topSpeed } from '../../core/heads/profile'
import { createLens, type Lens } from '../../core/optics/lens'
import { Axis } from './axis'
import { Eye } from './eye'
import { Focus } from './focus'
import { HeadMenu } from './headMenu'
import type { Colour } from './light'
import { SubjectFollow } from './subject'

export interface BodyPose {
  panDeg: number
  tiltDeg: number
  zoom: number
}

interface Memory extends BodyPose {
  focusAuto: boolean
  focus: number
}

const ZOOM_ACCEL = 60_000
const NEUTRAL: Colour = { red: 1, blue: 1 }

export class Head {
  readonly pan: Axis
  readonly tilt: Axis
  readonly zoom: Axis
  readonly focus = new Focus()
  readonly lens: Lens
  readonly eye: Eye
  readonly menu = new HeadMenu()
  power = true
  tallyLamp = false
  /** Where it was told to focus, shares from the left and the top; null for the middle. */
  focusAt: { x: number; y: number } | null = null
  readonly subject: SubjectFollow
  private digital = false
  private range: { panMin: number; panMax: number; tiltMin: number; tiltMax: number }
  private readonly memories = new Map<number, Memory>()
  private advancedAtMs: number

  /**
   * @param distanceAlong metres to what is seen in a direction, for the focus
   */
  constructor(
    readonly profile: HeadProfile,
    start: BodyPose,
    private readonly distanceAlong: (panDeg: number, tiltDeg: number) => number,
    nowMs: number,
    /** What its sensor makes of grey. */
    cast: Colour = NEUTRAL,
  ) {
    this.eye = new Eye(controlsOf(profile), cast)
    const axis = (a: HeadProfile['pan'], at: number) =>
      new Axis(at, { min: a.minDeg, max: a.maxDeg, accel: a.accelDegPerSec2, step: 1 / a.unitsPerDeg })
    this.pan = axis(profile.pan, start.panDeg)
    this.tilt = axis(profile.tilt, start.tiltDeg)
    this.lens = createLens(profile.lens)
    const { pan, tilt } = profile
    this.range = { panMin: pan.minDeg, panMax: pan.maxDeg, tiltMin: tilt.minDeg, tiltMax: tilt.maxDeg }
    const { wide, tele } = this.lens
    this.zoom = new Axis(start.zoom, { min: wide, max: tele, accel: ZOOM_ACCEL, step: 1 })
    this.subject = new SubjectFollow(this)
    this.advancedAtMs = nowMs
  }

  get moving(): boolean {
    return this.pan.moving || this.tilt.moving || this.zoom.moving
  }

  /** As far as the zoom goes now. */
  get zoomEnd(): number {
    return this.digital ? (this.profile.lens.digital?.to ?? this.lens.tele) : this.lens.tele
  }

  get zoomsDigitally(): boolean {
    return this.digital
  }

  setDigital(on: boolean): void {
    this.digital = on
    this.zoom.bound(this.lens.wide, this.zoomEnd)
    if (this.zoom.position > this.zoomEnd) this.zoom.goTo(this.zoomEnd, this.profile.zoomTravelPerSec)
  }

  /** Sets a corner of the range in which it may turn, degrees; null for the head's own. */
  limit(corner: 'upRight' | 'downLeft', at: { pan: number; tilt: number } | null): void {
    const { pan, tilt } = this.profile
    const high = corner === 'upRight'
    const [panAt, tiltAt] = [
      at?.pan ?? (high ? pan.maxDeg : pan.minDeg),
      at?.tilt ?? (high ? tilt.maxDeg : tilt.minDeg),
    ]
    this.range = high
      ? { ...this.range, panMax: panAt, tiltMax: tiltAt }
      : { ...this.range, panMin: panAt, tiltMin: tiltAt }
    this.pan.bound(this.range.panMin, this.range.panMax)
    this.tilt.bound(this.range.tiltMin, this.range.tiltMax)
  }

  get hfovDeg(): number {
    return this.lens.hfovDeg(this.zoom.position)
  }

  advance(nowMs: number): void {
    const seconds = (nowMs - this.advancedAtMs) / 1000
    if (seconds <= 0) return
    this.advancedAtMs = nowMs
    this.subject.advance(seconds)
    this.pan.advance(seconds)
    this.tilt.advance(seconds)
    this.zoom.advance(seconds)
    if (!this.power) return
    this.focus.advance(seconds, this.distance())
    this.eye.advance(seconds)
  }

  /** Metres to what it focuses on: the middle of the picture, or the place it was told. */
  private distance(): number {
    if (this.focus.auto || this.pan.moving || this.tilt.moving) this.focusAt = null
    const { x, y } = this.focusAt ?? { x: 0.5, y: 0.5 }
    const vfovDeg = this.hfovDeg / this.profile.lens.aspect
    return this.distanceAlong(
      this.pan.position + (x - 0.5) * this.hfovDeg,
      this.tilt.position + (0.5 - y) * vfovDeg,
    )
  }

  /** Power came back: a head finds its middle first, and forgets nothing but where it was. */
  boot(): void {
    this.power = true
    this.pan.position = 0
    this.tilt.position = 0
    this.zoom.position = this.lens.wide
    for (const axis of [this.pan, this.tilt, this.zoom]) {
      axis.velocity = 0
      axis.drive(0)
    }
    this.focus.setAuto(true)
    this.eye.freeze(false)
  }

  standby(): void {
    this.power = false
    for (const axis of [this.pan, this.tilt, this.zoom]) axis.drive(0)
  }

  remember(slot: number): void {
    this.memories.set(slot, {
      panDeg: this.pan.position,
      tiltDeg: this.tilt.position,
      zoom: this.zoom.position,
      focusAuto: this.focus.auto,
      focus: this.focus.position,
    })
  }

  forget(slot: number): void {
    this.memories.delete(slot)
  }

  /** False where the memory is empty. */
  recall(slot: number): boolean {
    const memory = this.memories.get(slot)
    if (!memory) return false
    this.pan.goTo(memory.panDeg, topSpeed(this.profile.pan))
    this.tilt.goTo(memory.tiltDeg, topSpeed(this.profile.tilt))
    this.zoom.goTo(memory.zoom, this.profile.zoomTravelPerSec)
    this.focus.setAuto(memory.focusAuto)
    if (!memory.focusAuto) this.focus.goTo(memory.focus)
    return true
  }
}
