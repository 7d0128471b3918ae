/** The driver for a camera that is described by a command set. */
import type { ActionName, CommandRequest, CommandSet } from '../../../core/commands/commandSet'
import { readTemplate, type Values } from '../../../core/commands/template'
import { driveValues, unitsToAngle, unitsToLens } from '../../../core/commands/units'
import type { Health } from '../../../core/facts/health'
import type { StopOrder } from '../../../core/guardian/stopOrder'
import { type HeadProfile, topSpeed } from '../../../core/heads/profile'
import { SPEEDS_AT_REST, type Speeds } from '../../../core/stick/speeds'
import {
  type Body,
  type BodyEvents,
  type BodyOrders,
  NO_SETTINGS,
  NOTHING_READ,
  type Reading,
  type Settings,
  type Traits,
} from '../body'
import type { Clock } from '../clock'
import { stopAnswered } from '../closing'
import { DeviceFault } from '../deviceFault'
import { LaneSender } from '../laneSender'
import { Poller } from '../poller'
import { RequestHealth } from '../requestHealth'
import { REQUEST_WORDS } from '../requestWords'
import { Watched } from '../watched'
import { CommandSettings } from './commandSettings'
import { type CommandParts, commandOrders, type TravelLane, tells } from './orderTable'
import { stopOrders } from './stopOrders'
import type { CommandAddress, Wire } from './wire'

const POLL_MOVING_MS = 100
const POLL_IDLE_MS = 400
const POLL_AGAIN_MS = 700
const SLOW_MS = 400
const REST_MS = 250
const EXPECT_MOVE_MS = 1200

const UNHEARD =
  'This camera takes commands and never answers. Only its picture shows whether it acts; presets are kept in its own memories, if it has any.'

export class CommandBody implements Body {
  readonly zoomsApart = true
  readonly orders: BodyOrders
  reading: Reading = NOTHING_READ
  private readonly link: RequestHealth
  private readonly lanes: Record<'drive' | 'zoom' | 'focus', LaneSender>
  private readonly last = new Map<string, string>()
  private events: BodyEvents = { reading: () => {}, health: () => {}, notice: () => {} }
  private speeds: Speeds = SPEEDS_AT_REST
  private pollingFast = false
  private busyUntilMs = 0
  private readonly panTilt = new Watched<[number | null, number | null]>(REST_MS)
  private readonly zoom = new Watched<[number | null]>(REST_MS)
  private readonly poller: Poller
  private readonly picture: CommandSettings

  constructor(
    private readonly set: CommandSet,
    private readonly profile: HeadProfile,
    private readonly parts: CommandParts,
    private readonly address: CommandAddress,
    private readonly wire: Wire,
    private readonly clock: Clock,
    /** It may still run from before this server began: it is stopped before anything else is sent. */
    suspect = false,
  ) {
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
    this.poller = new Poller(clock, () => this.poll())
    this.picture = new CommandSettings({
      set,
      request: (request, values) => this.request(request, values),
      changed: () => this.events.health(),
    })
    const body = this
    this.orders = commandOrders({
      set,
      profile,
      parts,
      get reading() {
        return body.reading
      },
      send: (name, values) => this.send(name, values),
      travel: (lanes, name, values) => this.travel(lanes, name, values),
      readSoon: () => this.readSoon(),
    })
    if (parts.lens && set.settings.length > 0)
      this.orders.setting = async ({ key, value }) => {
        const result = await this.picture.order(key, value)
        this.readSoon()
        return result
      }
    if (suspect) this.halt()
    this.readSoon()
  }

  get settings(): Settings {
    const { specs, values } = this.picture
    return this.parts.lens ? { specs, values } : NO_SETTINGS
  }

  listen(events: BodyEvents): void {
    this.events = events
  }

  get health(): Health {
    if (this.answers) return this.link.health
    return { ...this.link.health, state: 'unheard', advice: UNHEARD }
  }

  get traits(): Traits {
    const { set, parts } = this
    const { actions } = set
    const knowsHead = !parts.head || (tells(set, 'pan') && tells(set, 'tilt'))
    return {
      panTilt: parts.head && (!!actions.drive || !!actions.goTo),
      zoom: parts.lens && (!!actions.zoom || !!actions.zoomTo),
      focus: parts.lens && !!actions.focus,
      position: { panTilt: parts.head && knowsHead, zoom: parts.lens && tells(set, 'zoom') },
      subject: null,
      memories: actions.memoryRecall ? set.memories : 0,
      device: set.name,
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
    if (this.moves && !this.pollingFast) this.readSoon()
  }

  halt(): void {
    for (const lane of ['drive', 'zoom'] as const) this.last.set(lane, '')
    this.drive(SPEEDS_AT_REST)
  }

  readLight = async () => null

  readSoon(): void {
    if (this.answers) this.poller.soon()
  }

  async close(): Promise<void> {
    this.drive(SPEEDS_AT_REST)
    await stopAnswered(this.clock, () => this.stopPending)
    for (const lane of Object.values(this.lanes)) lane.close()
    this.poller.close()
    this.wire.close()
  }

  /** Does anything in the set expect an answer? */
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

  private travel(lanes: readonly TravelLane[], name: ActionName, values: Values): Promise<unknown> {
    for (const lane of lanes) this.last.delete(lane)
    this.busyUntilMs = this.clock.now() + EXPECT_MOVE_MS
    const send = (): Promise<unknown> => this.send(name, values)
    return lanes.reduce((inner, lane) => () => this.lanes[lane].travel(inner), send)()
  }

  private send(name: ActionName, values: Values): Promise<string> {
    return this.request(this.set.actions[name]!, values)
  }

  private request(request: CommandRequest, values: Values): Promise<string> {
    const wantsAnswer = this.set.transport === 'http'
    const work = () => this.wire.send(request, values, wantsAnswer)
    return wantsAnswer ? this.link.track(work) : work()
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

  private async poll(): Promise<number> {
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
      const { panTiltMoving, zoomMoving } = this.reading
      this.pollingFast = this.moves || panTiltMoving || zoomMoving || this.clock.now() < this.busyUntilMs
      return this.pollingFast ? POLL_MOVING_MS : POLL_IDLE_MS
    } catch {
      this.link.check()
      this.events.health()
      return POLL_AGAIN_MS
    }
  }

  private take(values: Record<string, string>, atMs: number): void {
    const { set, profile, parts } = this
    this.picture.take(values)
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
    this.panTilt.take([next.panDeg, next.tiltDeg], atMs)
    this.zoom.take([next.zoom], atMs)
    next.panTiltMoving = this.panTilt.moving
    next.zoomMoving = this.zoom.moving
    this.reading = next
    this.events.reading()
  }
}

function notFoundIsAnAnswer(error: unknown): string {
  if (error instanceof DeviceFault && error.kind !== 'network') return ''
  throw error
}
