/** A camera made of one body, or of several that do different parts of it. */
import type { HeadProfile } from '../../core/heads/profile'
import { type Capabilities, type Health, isUsable, type LinkState } from '../../core/live/messages'
import { createLens, type Lens } from '../../core/optics/lens'
import type { LivePose, PresetPose } from '../../core/presets/pose'
import type { Travel } from '../../core/presets/standing'
import type { Body, Goal } from './body'
import type { Camera, CameraEvents, CameraResult, Sticks } from './camera'
import { DONE, STICKS_AT_REST } from './camera'
import type { Clock } from './clock'
import { TravelWatch } from './travelWatch'

/** Which body does what; the same one may stand for all. */
export interface Parts {
  head: Body
  lens: Body
}

const HEALTH_EVERY_MS = 1000
const SAME_NOTICE_MS = 3000
const STANDBY = 'The camera is in standby. Switch it on first.'

/** From the worst to the best: of two parts the worse one is told. */
const WORST_FIRST: readonly LinkState[] = [
  'refused',
  'silent',
  'connecting',
  'standby',
  'slow',
  'unheard',
  'ready',
]

export class OneCamera implements Camera {
  pose: LivePose | null = null
  private readonly lens: Lens
  private readonly bodies: readonly Body[]
  private readonly one: boolean
  private watch: TravelWatch | null = null
  private lastHealth = ''
  private lastCapabilities = ''
  private lastNotice = { text: '', atMs: 0 }
  private cancelHealth: () => void = () => {}
  private closed = false

  constructor(
    readonly profile: HeadProfile,
    private readonly parts: Parts,
    private readonly events: CameraEvents,
    private readonly clock: Clock,
  ) {
    this.lens = createLens(profile.lens)
    this.one = parts.head === parts.lens
    this.bodies = this.one ? [parts.head] : [parts.head, parts.lens]
    for (const body of this.bodies) {
      body.listen({
        reading: () => this.update(),
        health: () => {
          this.update()
          this.tellHealth()
        },
        notice: (text) => this.tellNotice(text),
      })
    }
    this.healthTick()
  }

  get travel(): Travel | null {
    return this.watch?.travel ?? null
  }

  get capabilities(): Capabilities {
    const { head, lens } = this.parts
    if (this.one) return head.capabilities
    const [h, l] = [head.capabilities, lens.capabilities]
    return {
      panTilt: h.panTilt,
      zoom: l.zoom,
      focus: l.focus,
      focusMode: l.focusMode,
      position: h.position && l.position,
      power: h.power || l.power,
      home: h.home,
      memories: 0,
      device: [h.device, l.device].filter(Boolean).join(' with ') || null,
    }
  }

  get health(): Health {
    const { head, lens } = this.parts
    if (this.one) return head.health
    const [h, l] = [head.health, lens.health]
    const worse = WORST_FIRST.indexOf(l.state) < WORST_FIRST.indexOf(h.state) ? l : h
    const part = worse === l ? 'Lens' : 'Head'
    return {
      ...worse,
      advice: worse.advice && `${part}: ${worse.advice}`,
      roundTripMs: h.roundTripMs === null ? l.roundTripMs : Math.max(h.roundTripMs, l.roundTripMs ?? 0),
      loss: Math.max(h.loss, l.loss),
      reconnects: h.reconnects + l.reconnects,
    }
  }

  drive(sticks: Sticks): void {
    const moves = sticks.pan !== 0 || sticks.tilt !== 0 || sticks.zoom !== 0
    if (moves && this.watch?.interrupt()) this.tellTravel()
    const wideHfovDeg = this.lens.hfovDeg(this.lens.wide)
    const view = { hfovDeg: this.pose?.hfovDeg ?? wideHfovDeg, wideHfovDeg }
    const { head, lens } = this.parts
    if (this.one) {
      head.drive(sticks, view)
      return
    }
    head.drive({ ...STICKS_AT_REST, pan: sticks.pan, tilt: sticks.tilt }, view)
    lens.drive({ ...STICKS_AT_REST, zoom: sticks.zoom, focus: sticks.focus }, view)
  }

  async recall(presetId: string, pose: PresetPose): Promise<CameraResult> {
    const refusal = this.refusal()
    if (refusal) return refusal
    const watch = new TravelWatch(presetId, pose, this.pose, this.profile, this.clock.now())
    this.watch = watch
    const { head, lens } = this.parts
    const angles: Goal = { panDeg: pose.panDeg, tiltDeg: pose.tiltDeg }
    const optics: Goal = { zoom: pose.zoom, focusAuto: pose.focusAuto, focus: pose.focus }
    const orders = this.one ? [head.goTo({ ...angles, ...optics })] : [head.goTo(angles), lens.goTo(optics)]
    this.tellTravel()
    const failed = (await Promise.all(orders)).find((result) => !result.ok)
    if (!failed || failed.ok) return DONE
    if (this.watch === watch && watch.fail(failed.message)) this.tellTravel()
    return failed
  }

  setFocusMode(auto: boolean): Promise<CameraResult> {
    return this.parts.lens.setFocusMode(auto)
  }

  async setPower(on: boolean): Promise<CameraResult> {
    const able = this.bodies.filter((body) => body.capabilities.power)
    if (able.length === 0) return { ok: false, message: 'This camera cannot be switched from here.' }
    const results = await Promise.all(able.map((body) => body.setPower(on)))
    return results.find((result) => !result.ok) ?? DONE
  }

  async home(): Promise<CameraResult> {
    const refusal = this.refusal()
    if (refusal) return refusal
    if (this.watch?.interrupt()) this.tellTravel()
    return this.parts.head.home()
  }

  async restingPose(timeoutMs: number): Promise<LivePose | null> {
    const since = this.clock.now()
    while (this.clock.now() - since < timeoutMs && !this.closed) {
      if (this.restingSince(since) && this.pose) return this.pose
      for (const body of this.bodies) body.readSoon()
      await new Promise<void>((resolve) => this.clock.after(20, resolve))
    }
    return null
  }

  async close(): Promise<void> {
    this.closed = true
    this.cancelHealth()
    await Promise.all(this.bodies.map((body) => body.close()))
  }

  private refusal(): CameraResult | null {
    const { state, advice } = this.health
    if (isUsable(state)) return null
    if (state === 'standby') return { ok: false, message: STANDBY }
    if (state === 'silent')
      return {
        ok: false,
        message: 'The camera does not answer, so nothing was sent. Check its power and its cable.',
      }
    return { ok: false, message: advice ?? 'The camera is not ready yet, so nothing was sent.' }
  }

  private restingSince(atMs: number): boolean {
    const head = this.parts.head.reading
    const lens = this.parts.lens.reading
    if (head.panTiltMoving || lens.zoomMoving) return false
    return head.panTiltAtMs > atMs && lens.zoomAtMs > atMs
  }

  /** Null until all of it has been read once. */
  private assemble(): LivePose | null {
    const { head, lens } = this.parts
    const [h, l] = [head.reading, lens.reading]
    const focusAuto = l.focusAuto ?? (lens.capabilities.focusMode ? null : true)
    if (h.panDeg === null || h.tiltDeg === null || l.zoom === null || focusAuto === null) return null
    return {
      panDeg: h.panDeg,
      tiltDeg: h.tiltDeg,
      zoom: l.zoom,
      focusAuto,
      focus: l.focus,
      hfovDeg: this.lens.hfovDeg(l.zoom),
      power: h.power !== false && l.power !== false,
      moving: h.panTiltMoving || l.zoomMoving,
      atMs: Math.round(h.panTiltAtMs + this.clock.wall() - this.clock.now()),
    }
  }

  private update(): void {
    const { state } = this.health
    const answers = isUsable(state) || state === 'standby'
    // A camera that fell silent: nothing that was true of it is claimed any longer.
    if (!answers && this.watch?.fail(this.health.advice ?? 'The camera stopped answering.')) this.tellTravel()
    const before = this.pose
    this.pose = answers ? this.assemble() : null
    if (this.pose || before) this.events.pose(this.pose)
    if (this.pose && this.watch?.see(this.pose, this.clock.now())) this.tellTravel()
    if (before?.power !== this.pose?.power) this.tellHealth()
  }

  private tellNotice(text: string): void {
    const now = this.clock.now()
    if (text === this.lastNotice.text && now - this.lastNotice.atMs < SAME_NOTICE_MS) return
    this.lastNotice = { text, atMs: now }
    this.events.notice(text)
  }

  private tellTravel(): void {
    this.events.travel(this.travel)
  }

  private tellHealth(): void {
    const health = this.health
    const text = JSON.stringify({ ...health, silentMs: health.state === 'ready' ? null : health.silentMs })
    const able = JSON.stringify(this.capabilities)
    if (text === this.lastHealth && able === this.lastCapabilities) return
    this.lastHealth = text
    this.lastCapabilities = able
    this.events.health(health, this.capabilities)
  }

  private healthTick(): void {
    if (this.closed) return
    this.tellHealth()
    this.cancelHealth = this.clock.after(HEALTH_EVERY_MS, () => this.healthTick())
  }
}
