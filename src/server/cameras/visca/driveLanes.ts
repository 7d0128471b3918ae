/** What each group of axes of a VISCA head was last told by a hand, so that only changes are sent. */
import type { HeadProfile } from '../../../core/heads/profile'
import { RAMP_HOLD_MS } from '../../../core/stick/dither'
import { LEASH_EVERY_MS } from '../../../core/stick/leash'
import type { Bounds, Speeds } from '../../../core/stick/speeds'
import type { ViscaCommand } from '../../../core/visca/commands'
import type { ViscaSession } from '../../../core/visca/session'
import type { Lane, SendOptions } from '../../../core/visca/sessionTypes'
import type { Reading } from '../body'
import type { Clock } from '../clock'
import { DriveCommands, isStop } from './driveCommands'
import { LeashDrive } from './leashDrive'
import type { ViscaParts } from './orderTable'
import { commandKey } from './outcomes'
import { StopCheck } from './stopCheck'

export const LANES: readonly Lane[] = ['panTilt', 'zoom', 'focus']
/** Marks a lane of which it is not known what the camera does. */
const UNSURE = 'unsure'
/** A head that takes few packets is asked between them where it is. */
const HOLD_TO_GAPS = 2

export interface DriveHost {
  readonly profile: HeadProfile
  readonly parts: ViscaParts
  /** A speed step is held at least this long, ms. */
  readonly holdMs: number
  readonly session: ViscaSession
  readonly clock: Clock
  reading(): Reading
  /** Told when a drive is on its way. */
  runs(speeds: Partial<Speeds> | null, atMs: number): void
}

export class DriveLanes {
  private readonly commands: DriveCommands
  private readonly holdMs: number
  private readonly last = new Map<Lane, string>()
  /** What was ever set in motion from here: after a silence nobody knows whether it still runs. */
  private readonly moved = new Set<Lane>()
  private readonly ids = new Map<number, Lane>()
  /** What those that are not on their way yet will make it do. */
  private readonly coming = new Map<number, Partial<Speeds>>()
  private readonly stopCheck = new StopCheck()
  private leash: { drive: LeashDrive; bounds: Bounds } | null = null

  constructor(private readonly host: DriveHost) {
    const { restartsRamp, gapMs } = host.profile
    this.holdMs = restartsRamp ? RAMP_HOLD_MS : Math.max(host.holdMs, HOLD_TO_GAPS * gapMs)
    this.commands = new DriveCommands(host.profile, this.holdMs)
  }

  /** Steps that the camera says it has; null if it has not said. */
  set most(steps: { pan: number; tilt: number } | null) {
    this.commands.most = steps
  }

  drive(speeds: Speeds, refines: boolean): void {
    const commands = this.commands.next(speeds, this.host.clock.now())
    const { head, lens } = this.host.parts
    for (const lane of LANES) {
      if (!(lane === 'panTilt' ? head : lens)) continue
      const command = this.onLeash(lane, commands[lane], speeds)
      if (command) this.send(lane, command, refines)
    }
  }

  keepOnLeash(bounds: Bounds | null): void {
    this.leash = bounds && { drive: this.leash?.drive ?? new LeashDrive(this.host.profile), bounds }
    this.commands.holdMs = this.leash ? LEASH_EVERY_MS : this.holdMs
  }

  /** It is about to move without a hand; on these lanes the travel takes the place of what the stick did. */
  travels(lanes: readonly Lane[]): void {
    for (const lane of lanes) {
      this.last.delete(lane)
      this.moved.add(lane)
    }
    this.stopCheck.sent()
  }

  /** What these lanes do is not known: the next thing that they are told is how the stick stands. */
  suspect(lanes: Iterable<Lane>): void {
    for (const lane of lanes) {
      this.moved.add(lane)
      this.last.set(lane, UNSURE)
    }
  }

  suspectAll(): void {
    this.suspect([...this.moved])
  }

  get unsure(): boolean {
    return [...this.last.values()].includes(UNSURE)
  }

  /** @param resting no hand is on it, so that it was a stop */
  accepted(id: number, resting: boolean, atMs: number): void {
    if (this.ids.delete(id) && resting) this.stopCheck.acknowledged(atMs)
  }

  ended(id: number): void {
    this.ids.delete(id)
    this.coming.delete(id)
  }

  /** It is on its way. On a leash it is a short move, of which the speed says little. */
  sent(id: number, atMs: number): void {
    const speeds = this.coming.get(id)
    this.coming.delete(id)
    if (speeds) this.host.runs(this.leash ? null : speeds, atMs)
  }

  /** It may have acted: the next stick message or stop is sent whatever it says. @returns whether it was a drive */
  failed(id: number): boolean {
    this.coming.delete(id)
    const lane = this.ids.get(id)
    if (!lane) return false
    this.ids.delete(id)
    this.last.set(lane, UNSURE)
    return true
  }

  /** The head is seen to move. @returns whether it is to be stopped once more */
  seenMoving(): boolean {
    if (!this.stopCheck.seenMoving(this.host.clock.now())) return false
    this.suspect(['panTilt', 'zoom'])
    return true
  }

  /** The drive as it is sent; null if the leash has nothing new to say yet. */
  private onLeash(lane: Lane, drive: ViscaCommand, speeds: Speeds): ViscaCommand | null {
    if (!this.leash) return drive
    const { host, leash } = this
    return leash.drive.next(lane, drive, speeds, {
      reading: host.reading(),
      bounds: leash.bounds,
      nowMs: host.clock.now(),
    })
  }

  private send(lane: Lane, command: ViscaCommand, refines: boolean): void {
    const bytes = commandKey(command)
    const stop = isStop(command)
    const last = this.last.get(lane)
    // A lane that was never driven needs no stop.
    if (last === bytes || (stop && last === undefined)) return
    this.last.set(lane, bytes)
    if (stop) this.stopCheck.told()
    else {
      this.moved.add(lane)
      this.stopCheck.driven()
    }
    const options: SendOptions = { lanes: [lane], urgency: stop ? 'stop' : 'drive', refines }
    const id = this.host.session.send(command, options, this.host.clock.now())
    this.ids.set(id, lane)
    this.coming.set(id, this.commands.speeds(lane))
  }
}
