/** The driver for a camera that is described by a command set. */
import type { ActionName, CommandSet } from '../../../core/commands/commandSet'
import { readTemplate, type Values } from '../../../core/commands/template'
import {
  angleToUnits,
  driveValues,
  lensToUnits,
  unitsToAngle,
  unitsToLens,
} from '../../../core/commands/units'
import type { StopOrder } from '../../../core/guardian/stopOrder'
import { type HeadProfile, topSpeed } from '../../../core/heads/profile'
import type { Capabilities, Health } from '../../../core/live/messages'
import { SPEEDS_AT_REST, type Speeds } from '../../../core/stick/speeds'
import { type Body, type BodyEvents, type Goal, NOTHING_READ, type Reading } from '../body'
import { CANNOT, type CameraResult, DONE, type MemoryAction } from '../camera'
import type { Clock } from '../clock'
import { DeviceFault } from '../deviceFault'
import { LaneSender } from '../laneSender'
import { RequestHealth } from '../requestHealth'
import { REQUEST_WORDS } from '../requestWords'
import { stopOrders } from './stopOrders'
import { type CommandAddress, openWire, type Wire } from './wire'

const POLL_MOVING_MS = 100
const POLL_IDLE_MS = 400
const POLL_AGAIN_MS = 700
const SLOW_MS = 400
const REST_MS = 250
const EXPECT_MOVE_MS = 1200

const NO_ACTION = (what: string): CameraResult => ({
  ok: false,
  message: `The command set of this camera does not say how to ${what}.`,
})

const UNHEARD =
  'This camera takes commands and never answers. Whether it acts shows in its picture alone; presets are kept in its own memories, where it has any.'

export interface CommandParts {
  head: boolean
  lens: boolean
}

export class CommandBody implements Body {
  readonly zoomsApart = true
  reading: Reading = NOTHING_READ
  private readonly wire: Wire
  private readonly link: RequestHealth
  private readonly lanes: Record<'drive' | 'zoom' | 'focus', LaneSender>
  private readonly last = new Map<string, string>()
  private events: BodyEvents = { reading: () => {}, health: () => {}, notice: () => {} }
  private speeds: Speeds = SPEEDS_AT_REST
  private pollingFast = false
  private busyUntilMs = 0
  private changedAtMs = { panTilt: 0, zoom: 0 }
  private cancelPoll: () => void = () => {}
  private polling = false
  private closed = false

  constructor(
    private readonly set: CommandSet,
    private readonly profile: HeadProfile,
    private readonly parts: CommandParts,
    private readonly address: CommandAddress,
    private readonly clock: Clock,
    /** It may still run from before this server began: it is stopped before anything else is sent. */
    suspect = false,
  ) {
    this.wire = openWire(set, address)
    this.link = new RequestHealth(
      clock,
      REQUEST_WORDS(`${address.host}:${address.port}`),
      SLOW_MS,
      (from) => {
        if (this.link.state === 'silent') this.reading = NOTHING_READ
        else if (from === 'silent') this.regain()
        this.events.health()
      },
    )
    const sender = () => new LaneSender(clock, (error) => this.events.notice(error.message))
    this.lanes = { drive: sender(), zoom: sender(), focus: sender() }
    if (suspect) this.halt()
    if (this.answers) this.pollIn(0)
  }

  listen(events: BodyEvents): void {
    this.events = events
  }

  get health(): Health {
    if (this.answers) return this.link.health
    return { ...this.link.health, state: 'unheard', advice: UNHEARD }
  }

  get capabilities(): Capabilities {
    const { actions, reads } = this.set
    const readable = reads.map((read) => read.answer).join(' ')
    const tells = (name: string) => readable.includes(`{${name}`)
    return {
      panTilt: this.parts.head && (!!actions.drive || !!actions.goTo),
      zoom: this.parts.lens && (!!actions.zoom || !!actions.zoomTo),
      focus: this.parts.lens && !!actions.focus,
      focusMode: this.parts.lens && !!actions.autoFocusOn && !!actions.autoFocusOff && tells('autoFocus'),
      position: (!this.parts.head || (tells('pan') && tells('tilt'))) && (!this.parts.lens || tells('zoom')),
      power: !!actions.powerOn && !!actions.standby,
      home: this.parts.head && !!actions.home,
      onePush: false,
      focusAt: false,
      digitalZoom: false,
      subject: null,
      memories: this.set.actions.memoryRecall ? this.set.memories : 0,
      light: false,
      freeze: false,
      leash: false,
      device: this.set.name,
    }
  }

  get stopPending(): boolean {
    return Object.values(this.lanes).some((lane) => lane.stopPending)
  }

  stops(): StopOrder[] {
    const { set, parts } = this
    const values: [ActionName, Values][] = []
    if (parts.head && set.actions.drive)
      values.push(['drive', { ...driveValues(set, 'pan', 0), ...driveValues(set, 'tilt', 0) }])
    for (const axis of ['zoom', 'focus'] as const)
      if (parts.lens && set.actions[axis]) values.push([axis, driveValues(set, axis, 0)])
    return stopOrders(
      set,
      this.address,
      values.map(([name, v]) => ({ request: set.actions[name]!, values: v })),
    )
  }

  drive(speeds: Speeds): void {
    this.speeds = speeds
    const { set, parts, profile } = this
    const share = (speed: number, top: number) => Math.max(-1, Math.min(1, speed / top))
    if (parts.head && set.actions.drive) {
      const x = share(speeds.panDegPerSec, topSpeed(profile.pan))
      const y = share(speeds.tiltDegPerSec, topSpeed(profile.tilt))
      this.lane('drive', x === 0 && y === 0, {
        ...driveValues(set, 'pan', x),
        ...driveValues(set, 'tilt', y),
      })
    }
    const { zoomSpeedsPerSec } = profile
    const lens = {
      zoom: share(speeds.zoomPerSec, zoomSpeedsPerSec[zoomSpeedsPerSec.length - 1]!),
      focus: speeds.focus,
    }
    for (const axis of ['zoom', 'focus'] as const) {
      if (!parts.lens || !set.actions[axis]) continue
      this.lane(axis, lens[axis] === 0, driveValues(set, axis, lens[axis]))
    }
    if (this.moves && !this.pollingFast) this.pollSoon()
  }

  halt(): void {
    for (const lane of ['drive', 'zoom'] as const) this.last.set(lane, '')
    this.drive(SPEEDS_AT_REST)
  }

  async goTo(goal: Goal): Promise<CameraResult> {
    const { set, parts, profile } = this
    this.busyUntilMs = this.clock.now() + EXPECT_MOVE_MS
    const orders: Promise<CameraResult>[] = []
    if (parts.head && goal.panDeg !== undefined && goal.tiltDeg !== undefined) {
      if (!set.actions.goTo) return NO_ACTION('go to a position')
      this.last.delete('drive')
      orders.push(
        this.order('goTo', {
          pan: angleToUnits(set, 'pan', goal.panDeg),
          tilt: angleToUnits(set, 'tilt', goal.tiltDeg),
        }),
      )
    }
    if (parts.lens && goal.zoom !== undefined && set.actions.zoomTo) {
      this.last.delete('zoom')
      orders.push(this.order('zoomTo', { zoom: lensToUnits(set, profile, 'zoom', goal.zoom) }))
    }
    const focus = parts.lens ? this.goToFocus(goal) : null
    if (focus) orders.push(focus)
    this.pollSoon()
    return (await Promise.all(orders)).find((result) => !result.ok) ?? DONE
  }

  setFocusMode(auto: boolean): Promise<CameraResult> {
    const name = auto ? 'autoFocusOn' : 'autoFocusOff'
    if (!this.set.actions[name]) return Promise.resolve(NO_ACTION('set its focus'))
    return this.order(name, {})
  }

  setPower(on: boolean): Promise<CameraResult> {
    const name = on ? 'powerOn' : 'standby'
    if (!this.set.actions[name]) return Promise.resolve(NO_ACTION('switch it'))
    return this.order(name, {})
  }

  home(): Promise<CameraResult> {
    if (!this.set.actions.home) return Promise.resolve(NO_ACTION('go home'))
    this.last.delete('drive')
    this.busyUntilMs = this.clock.now() + EXPECT_MOVE_MS
    return this.order('home', {})
  }

  async memory(action: MemoryAction, number: number): Promise<CameraResult> {
    const name = action === 'set' ? 'memorySet' : 'memoryRecall'
    if (!this.set.actions[name]) return NO_ACTION('use memories of its own')
    if (action === 'recall') {
      for (const lane of ['drive', 'zoom'] as const) this.last.delete(lane)
      this.busyUntilMs = this.clock.now() + EXPECT_MOVE_MS
    }
    return this.order(name, { number })
  }

  focusOnce = async (): Promise<CameraResult> => CANNOT('focus once when told')
  focusAt = async (): Promise<CameraResult> => CANNOT('focus on a place')
  setDigitalZoom = async (): Promise<CameraResult> => CANNOT('switch its digital zoom')
  followSubject = async (): Promise<CameraResult> => CANNOT('follow a subject by itself')
  readLight = async () => null
  setLight = async (): Promise<CameraResult> => CANNOT('set its exposure and white balance')
  freeze = async (): Promise<CameraResult> => CANNOT('hold its picture')
  keepWithin(): void {}
  keepOnLeash(): void {}

  readSoon(): void {
    this.pollSoon()
  }

  async close(): Promise<void> {
    this.drive(SPEEDS_AT_REST)
    for (let i = 0; i < 25 && this.stopPending; i++) {
      await new Promise<void>((resolve) => this.clock.after(20, resolve))
    }
    this.closed = true
    for (const lane of Object.values(this.lanes)) lane.close()
    this.cancelPoll()
    this.wire.close()
  }

  /** Does anything in the set ever bring an answer? */
  private get answers(): boolean {
    return this.set.transport === 'http' || this.set.reads.length > 0
  }

  private lane(name: 'drive' | 'zoom' | 'focus', stop: boolean, values: Values): void {
    const text = JSON.stringify(values)
    const before = this.last.get(name)
    if (before === text || (stop && before === undefined)) return
    this.last.set(name, text)
    this.lanes[name].set({ stop, send: () => this.send(name, values) })
  }

  private send(name: ActionName, values: Values): Promise<string> {
    const request = this.set.actions[name]!
    const wantsAnswer = this.set.transport === 'http'
    const work = () => this.wire.send(request, values, wantsAnswer)
    return wantsAnswer ? this.link.track(work) : work()
  }

  private async order(name: ActionName, values: Values): Promise<CameraResult> {
    try {
      await this.send(name, values)
      this.pollSoon()
      return DONE
    } catch (error) {
      return { ok: false, message: (error as Error).message }
    }
  }

  private goToFocus({ focusAuto, focus }: Goal): Promise<CameraResult> | null {
    const { set, profile } = this
    if (focusAuto === undefined || !this.capabilities.focusMode) return null
    const mode = this.reading.focusAuto === focusAuto ? Promise.resolve(DONE) : this.setFocusMode(focusAuto)
    if (focusAuto || focus === null || focus === undefined || !set.actions.focusTo || !set.ranges.focus)
      return mode
    return mode.then((result) =>
      result.ok ? this.order('focusTo', { focus: lensToUnits(set, profile, 'focus', focus) }) : result,
    )
  }

  /** Back again: what it did meanwhile is not known, so it is told what is wanted now. */
  private regain(): void {
    for (const name of [...this.last.keys()]) this.last.set(name, '')
    this.drive(this.speeds)
  }

  private get moves(): boolean {
    const { panDegPerSec, tiltDegPerSec, zoomPerSec } = this.speeds
    return panDegPerSec !== 0 || tiltDegPerSec !== 0 || zoomPerSec !== 0
  }

  private pollIn(ms: number): void {
    this.cancelPoll()
    if (!this.closed) this.cancelPoll = this.clock.after(ms, () => void this.poll())
  }

  private pollSoon(): void {
    if (!this.polling && this.answers) this.pollIn(10)
  }

  private async poll(): Promise<void> {
    if (this.polling || this.closed) return
    this.polling = true
    let next = POLL_AGAIN_MS
    try {
      // Without questions of its own the set's first page tells at least whether anything is there.
      if (this.set.reads.length === 0)
        await this.link
          .track(() => this.wire.send({ method: 'GET', path: '/' }, {}, true))
          .catch(notFoundIsAnAnswer)
      for (const read of this.set.reads) {
        const from = this.clock.now()
        const answer = await this.link.track(() => this.wire.send(read, {}, true))
        const values = readTemplate(read.answer, answer)
        if (!values) throw new DeviceFault('nonsense', 'The camera answers, but not as its command set says.')
        this.take(values, (from + this.clock.now()) / 2)
      }
      const busy =
        this.moves ||
        this.reading.panTiltMoving ||
        this.reading.zoomMoving ||
        this.clock.now() < this.busyUntilMs
      this.pollingFast = busy
      next = busy ? POLL_MOVING_MS : POLL_IDLE_MS
    } catch {
      this.link.check()
      this.events.health()
    }
    this.polling = false
    this.pollIn(next)
  }

  private take(values: Record<string, string>, atMs: number): void {
    const { set, profile, parts } = this
    const next = { ...this.reading }
    const number = (name: string) => (name in values ? Number(values[name]) : Number.NaN)
    const [pan, tilt, zoom, focus] = ['pan', 'tilt', 'zoom', 'focus'].map(number)
    if (parts.head && Number.isFinite(pan) && Number.isFinite(tilt) && set.ranges.pan && set.ranges.tilt) {
      next.panDeg = unitsToAngle(set, 'pan', pan!)
      next.tiltDeg = unitsToAngle(set, 'tilt', tilt!)
      next.panTiltAtMs = atMs
    }
    if (parts.lens && Number.isFinite(zoom) && set.ranges.zoom) {
      next.zoom = unitsToLens(set, profile, 'zoom', zoom!)
      next.zoomAtMs = atMs
    }
    if (parts.lens && Number.isFinite(focus) && set.ranges.focus)
      Object.assign(next, { focus: unitsToLens(set, profile, 'focus', focus!), focusAtMs: atMs })
    if (values.power !== undefined && set.words.power) {
      next.power = values.power === set.words.power.on
      if (this.link.power !== next.power) {
        this.link.power = next.power
        this.events.health()
      }
    }
    if (values.autoFocus !== undefined && set.words.autoFocus)
      next.focusAuto = values.autoFocus === set.words.autoFocus.on
    if (next.panDeg !== this.reading.panDeg || next.tiltDeg !== this.reading.tiltDeg)
      this.changedAtMs.panTilt = atMs
    if (next.zoom !== this.reading.zoom) this.changedAtMs.zoom = atMs
    next.panTiltMoving = atMs - this.changedAtMs.panTilt < REST_MS
    next.zoomMoving = atMs - this.changedAtMs.zoom < REST_MS
    this.reading = next
    this.events.reading()
  }
}

function notFoundIsAnAnswer(error: unknown): string {
  if (error instanceof DeviceFault && error.kind !== 'network') return ''
  throw error
}
