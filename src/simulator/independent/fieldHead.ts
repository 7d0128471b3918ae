/**
 * A head as those in the field are: it starts late and gathers speed, reports where it was a moment ago, counts
 * as its maker liked, and has speeds of its own. It shares nothing with the application: no codec, no profile.
 * Angles in degrees, right and up positive; zoom 0 (wide) to 1 (tele); times in ms.
 */

export interface HeadTraits {
  /** Encoder steps in one degree; negative where they grow to the left, or downwards. */
  panSteps: number
  tiltSteps: number
  /** What the encoders show at 0°. */
  panZero: number
  tiltZero: number
  panEnds: readonly [number, number]
  tiltEnds: readonly [number, number]
  /** Degrees per second by drive step, from step 1. */
  panSpeeds: readonly number[]
  tiltSpeeds: readonly number[]
  /** Zoom position on the wire at the tele end. */
  zoomTele: number
  /** Shares of the range per second by drive step 0 to 7. */
  zoomSpeeds: readonly number[]
  accel: number
  /** From a packet to the motion. */
  delayMs: number
  /** How often the position that it reports is renewed, and how old it is then. */
  renewMs: number
  lagMs: number
  /** Each drive packet starts the ramp anew. */
  restartsRamp: boolean
  /** Its own slow mode: a factor on all drives. */
  slow: number
  /** Degrees that its gears give before the picture follows. */
  backlashDeg: number
  /** Degrees per second to its own memories; null: as in a move. */
  memorySpeed: number | null
  /** The speed in a move to a position is not looked at. */
  ignoresMoveSpeed: boolean
  /** It reports where it goes instead of where it is. */
  reportsGoal: boolean
  /** Encoder steps by which it stops beside its goal. */
  misses: number
}

/** Uneven, with a plateau, as measured tables are. */
const UNEVEN = [
  0.6, 0.9, 1.2, 1.2, 1.8, 2.6, 3.5, 4.4, 5.2, 6.5, 8, 9.5, 11.4, 13.6, 16, 19, 23, 28, 34, 41, 50, 60, 72,
  86,
]

export const USUAL_HEAD: HeadTraits = {
  panSteps: 14.4,
  tiltSteps: 14.4,
  panZero: 0,
  tiltZero: 0,
  panEnds: [-170, 170],
  tiltEnds: [-30, 90],
  panSpeeds: UNEVEN,
  tiltSpeeds: UNEVEN.slice(0, 20),
  zoomTele: 16384,
  zoomSpeeds: [0.03, 0.05, 0.08, 0.12, 0.17, 0.24, 0.33, 0.45],
  accel: 220,
  delayMs: 60,
  renewMs: 50,
  lagMs: 60,
  restartsRamp: false,
  slow: 1,
  backlashDeg: 0,
  memorySpeed: null,
  ignoresMoveSpeed: false,
  reportsGoal: false,
  misses: 0,
}

/** One motor: driven at a speed, or on its way to a goal. */
class Motor {
  at = 0
  speed = 0
  private wanted = 0
  private goal: { at: number; top: number } | null = null
  /** Where the picture is: behind the motor by the slack of its gears. */
  shown = 0

  constructor(
    private readonly ends: readonly [number, number],
    private readonly accel: number,
    private readonly slack: number,
  ) {}

  get moving(): boolean {
    return this.speed !== 0 || this.wanted !== 0 || this.goal !== null
  }

  get target(): number {
    return this.goal?.at ?? this.at
  }

  drive(speed: number, anew: boolean): void {
    if (anew && Math.sign(speed) !== 0) this.speed *= 0.4
    this.wanted = speed
    this.goal = null
  }

  goTo(at: number, top: number): void {
    this.goal = { at: Math.min(this.ends[1], Math.max(this.ends[0], at)), top }
    this.wanted = 0
  }

  step(seconds: number): void {
    let wanted = this.wanted
    if (this.goal) {
      const way = this.goal.at - this.at
      if (Math.abs(way) < 1e-3 + Math.abs(this.speed) * seconds) {
        this.at = this.goal.at
        this.speed = 0
        this.goal = null
        wanted = 0
      } else
        wanted = Math.sign(way) * Math.min(this.goal.top, Math.sqrt(2 * this.accel * 0.8 * Math.abs(way)))
    }
    const most = this.accel * seconds
    this.speed += Math.min(most, Math.max(-most, wanted - this.speed))
    const to = this.at + this.speed * seconds
    this.at = Math.min(this.ends[1], Math.max(this.ends[0], to))
    if (this.at !== to) this.speed = 0
    this.shown = Math.min(this.at + this.slack, Math.max(this.at - this.slack, this.shown))
  }
}

interface Report {
  atMs: number
  pan: number
  tilt: number
  zoom: number
}

const STEP_MS = 4

export class FieldHead {
  readonly traits: HeadTraits
  power = true
  autofocus = true
  focus = 0x1000
  /** For the tests: what its lamps show. */
  red = false
  green = false
  private readonly pan: Motor
  private readonly tilt: Motor
  private readonly zoom: Motor
  private readonly memories = new Map<number, { pan: number; tilt: number; zoom: number }>()
  private due: { atMs: number; act: () => void }[] = []
  private reports: Report[] = []
  private nowMs: number

  constructor(traits: Partial<HeadTraits>, nowMs: number) {
    this.traits = { ...USUAL_HEAD, ...traits }
    const { panEnds, tiltEnds, accel, backlashDeg } = this.traits
    this.pan = new Motor(panEnds, accel, backlashDeg)
    this.tilt = new Motor(tiltEnds, accel, backlashDeg)
    this.zoom = new Motor([0, 1], 3, 0)
    this.nowMs = nowMs
    this.reports = [{ atMs: nowMs - 1000, pan: 0, tilt: 0, zoom: 0 }]
  }

  /** The truth: where it points, and whether anything still runs. */
  read(nowMs: number): { pan: number; tilt: number; zoom: number; moving: boolean } {
    this.advance(nowMs)
    const moving = this.pan.moving || this.tilt.moving || this.zoom.moving
    return { pan: this.pan.shown, tilt: this.tilt.shown, zoom: this.zoom.at, moving }
  }

  get busy(): boolean {
    return this.pan.moving || this.tilt.moving || this.zoom.moving || this.due.length > 0
  }

  /** Puts it somewhere at once. */
  place(pan: number, tilt: number, zoom: number): void {
    const at = { pan, tilt, zoom }
    for (const name of ['pan', 'tilt', 'zoom'] as const) {
      this[name].drive(0, false)
      Object.assign(this[name], { at: at[name], shown: at[name], speed: 0 })
    }
    this.reports = [{ atMs: this.nowMs - 1000, ...at }]
  }

  /** @param panStep, tiltStep signed drive steps, right and up positive */
  drive(panStep: number, tiltStep: number, nowMs: number): void {
    const { panSpeeds, tiltSpeeds, slow, restartsRamp } = this.traits
    const speed = (table: readonly number[], step: number) =>
      step === 0 ? 0 : Math.sign(step) * slow * (table[Math.min(table.length, Math.abs(step)) - 1] ?? 0)
    this.later(nowMs, () => {
      this.pan.drive(speed(panSpeeds, panStep), restartsRamp)
      this.tilt.drive(speed(tiltSpeeds, tiltStep), restartsRamp)
    })
  }

  /** @param pan, tilt, zoom shares of its top speeds, -1 to 1; null leaves as it is */
  driveShares(pan: number | null, tilt: number | null, zoom: number | null, nowMs: number): void {
    const { panSpeeds, tiltSpeeds, zoomSpeeds, slow, restartsRamp } = this.traits
    const top = (table: readonly number[]) => table[table.length - 1]!
    this.later(nowMs, () => {
      if (pan !== null) this.pan.drive(pan * slow * top(panSpeeds), restartsRamp)
      if (tilt !== null) this.tilt.drive(tilt * slow * top(tiltSpeeds), restartsRamp)
      if (zoom !== null) this.zoom.drive(zoom * top(zoomSpeeds), false)
    })
  }

  /** Degrees and a share of the zoom range; null leaves as it is. */
  travel(pan: number | null, tilt: number | null, zoom: number | null, nowMs: number): void {
    const { panSpeeds, tiltSpeeds } = this.traits
    this.later(nowMs, () => {
      if (pan !== null) this.pan.goTo(pan, panSpeeds[panSpeeds.length - 1]!)
      if (tilt !== null) this.tilt.goTo(tilt, tiltSpeeds[tiltSpeeds.length - 1]!)
      if (zoom !== null) this.zoom.goTo(zoom, 0.5)
    })
  }

  /** @param step 0 to 7 @param way -1 wide, 0 stop, 1 tele */
  driveZoom(way: number, step: number, nowMs: number): void {
    this.later(nowMs, () => this.zoom.drive(way * (this.traits.zoomSpeeds[step] ?? 0), false))
  }

  /** Encoder values. */
  goTo(panUnits: number, tiltUnits: number, panStep: number, tiltStep: number, nowMs: number): void {
    const { panSpeeds, tiltSpeeds, ignoresMoveSpeed } = this.traits
    const top = (table: readonly number[], step: number) =>
      ignoresMoveSpeed
        ? table[table.length - 1]!
        : (table[Math.min(table.length, Math.max(1, step)) - 1] ?? 1)
    const { pan, tilt } = this.degrees(panUnits, tiltUnits)
    this.later(nowMs, () => {
      this.pan.goTo(pan, top(panSpeeds, panStep))
      this.tilt.goTo(tilt, top(tiltSpeeds, tiltStep))
    })
  }

  zoomTo(position: number, nowMs: number): void {
    this.later(nowMs, () => this.zoom.goTo(position / this.traits.zoomTele, 0.5))
  }

  home(nowMs: number): void {
    this.later(nowMs, () => {
      this.pan.goTo(0, 60)
      this.tilt.goTo(0, 60)
    })
  }

  /** Ends whatever a socket held. */
  cancel(nowMs: number): void {
    this.later(nowMs, () => {
      this.pan.drive(0, false)
      this.tilt.drive(0, false)
      this.zoom.drive(0, false)
    })
  }

  keep(slot: number): void {
    this.memories.set(slot, { pan: this.pan.at, tilt: this.tilt.at, zoom: this.zoom.at })
  }

  /** @returns whether there is anything in it */
  recall(slot: number, nowMs: number): boolean {
    const kept = this.memories.get(slot)
    if (!kept) return false
    const top = this.traits.memorySpeed ?? 60
    this.later(nowMs, () => {
      this.pan.goTo(kept.pan, top)
      this.tilt.goTo(kept.tilt, top)
      this.zoom.goTo(kept.zoom, 0.5)
    })
    return true
  }

  /** What it says of itself: encoder values, late and renewed now and then. */
  report(nowMs: number): { pan: number; tilt: number; zoom: number } {
    this.advance(nowMs)
    const { traits, reports } = this
    const { panSteps, tiltSteps, panZero, tiltZero, zoomTele, lagMs, misses } = traits
    const seen = [...reports].reverse().find((r) => r.atMs <= nowMs - lagMs) ?? reports[0]!
    const told = traits.reportsGoal
      ? { pan: this.pan.target, tilt: this.tilt.target, zoom: this.zoom.target }
      : seen
    return {
      pan: Math.round(told.pan * panSteps) + panZero + misses,
      tilt: Math.round(told.tilt * tiltSteps) + tiltZero - misses,
      zoom: Math.round(told.zoom * zoomTele),
    }
  }

  /** Degrees and a share of the zoom range, as late and as rarely renewed as its encoder values. */
  reportDegrees(nowMs: number): { pan: number; tilt: number; zoom: number } {
    const { panSteps, tiltSteps, panZero, tiltZero, zoomTele } = this.traits
    const told = this.report(nowMs)
    return {
      pan: (told.pan - panZero) / panSteps,
      tilt: (told.tilt - tiltZero) / tiltSteps,
      zoom: told.zoom / zoomTele,
    }
  }

  private degrees(panUnits: number, tiltUnits: number): { pan: number; tilt: number } {
    const { panSteps, tiltSteps, panZero, tiltZero } = this.traits
    return { pan: (panUnits - panZero) / panSteps, tilt: (tiltUnits - tiltZero) / tiltSteps }
  }

  private later(nowMs: number, act: () => void): void {
    this.advance(nowMs)
    this.due.push({ atMs: nowMs + this.traits.delayMs, act })
  }

  private advance(nowMs: number): void {
    while (this.nowMs < nowMs) {
      const next = Math.min(nowMs, this.nowMs + STEP_MS)
      const seconds = (next - this.nowMs) / 1000
      this.nowMs = next
      const now = this.due.filter((d) => d.atMs <= next)
      this.due = this.due.filter((d) => d.atMs > next)
      for (const { act } of now) act()
      this.pan.step(seconds)
      this.tilt.step(seconds)
      this.zoom.step(seconds)
      const last = this.reports[this.reports.length - 1]!
      if (next - last.atMs >= this.traits.renewMs) {
        this.reports.push({ atMs: next, pan: this.pan.at, tilt: this.tilt.at, zoom: this.zoom.at })
        if (this.reports.length > 40) this.reports.shift()
      }
    }
  }
}
