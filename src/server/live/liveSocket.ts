/** The live socket of each browser: sticks and orders in, poses, health and events out. */
import { randomUUID } from 'node:crypto'
import * as v from 'valibot'
import type { WebSocket } from 'ws'
import { type FromServer, ToServer } from '../../core/live/messages'
import { type Pace, QUICK } from '../../core/presets/pace'
import type { LivePose } from '../../core/presets/pose'
import type { Round, RoundOrder } from '../../core/presets/round'
import type { Camera, CameraResult } from '../cameras/camera'
import { realClock } from '../cameras/clock'
import type { Fleet } from '../fleet'
import type { Catalogue } from '../store/catalogue'
import { Budget } from './budget'
import { Claims, type Holder } from './claims'
import { DeadMan } from './deadMan'

const PING_EVERY_MS = 5000
/** Far more than a hand on every camera sends. */
const MESSAGES_PER_SEC = 1500
const MESSAGES_AT_ONCE = 3000
/** Messages that make no sense, or are for cameras that are not there. */
const ASTRAY_PER_SEC = 60
const ASTRAY_AT_ONCE = 600
/** A page so far behind is gone: what it is owed would fill the memory, bytes. */
const GONE_BYTES = 4 * 1024 * 1024
/** Poses are gathered this long: twenty moving heads are one message instead of twenty, ms. */
const GATHER_MS = 20
/** A browser this far behind gets poses no more until it has caught up, bytes. */
const BEHIND_BYTES = 256 * 1024

/** What the sockets need of the rounds. */
interface RoundsHere {
  readonly all: readonly [string, Round][]
  start(camera: string, order: RoundOrder): string | null
  /** Somebody moves this camera now. */
  handOn(camera: string): void
}

/** What each page is told of the server itself. */
export interface HubState {
  /** What a former server left undone, in a sentence; null where nothing. */
  interrupted(): string | null
  /** Is the guardian there? */
  guarded(): boolean
}

/** One page, as its claims and its orders know it. */
interface Browser extends Holder {
  person: string
  readonly deadMan: DeadMan
  tell(message: FromServer): void
}

type Order = Extract<ToServer, { request: number }>
type CameraOrder = Exclude<Order, { t: 'recall' | 'startRound' }>

function carryOut(camera: Camera, message: CameraOrder): Promise<CameraResult> {
  switch (message.t) {
    case 'focusMode':
      return camera.setFocusMode(message.auto)
    case 'power':
      return camera.setPower(message.on)
    case 'home':
      return camera.home()
    case 'aim':
      return camera.aim(message.u, message.v, message.seconds)
    case 'frame':
      return camera.frame(message, message.seconds)
    case 'nudge':
      return camera.nudge(message.right, message.up)
    case 'zoomAbout':
      return camera.zoomAbout(message.u, message.v, message.factor)
    case 'memory':
      return camera.memory(message.action, message.number)
    case 'focusOnce':
      return camera.focusOnce()
    case 'focusAt':
      return camera.focusAt(message.u, message.v)
    case 'digitalZoom':
      return camera.setDigitalZoom(message.on)
    case 'followSubject':
      return camera.followSubject(message)
  }
}

const posesMessage = (poses: ReadonlyMap<string, LivePose | null>): FromServer => ({
  t: 'poses',
  poses: [...poses].map(([camera, pose]) => ({ camera, pose })),
})

export class LiveHub {
  private readonly poses = new Map<string, LivePose | null>()
  private readonly browsers = new Set<Browser>()
  private readonly claims = new Claims(realClock, (camera, holder) => this.tellClaim(camera, holder))
  private gathering: ReturnType<typeof setTimeout> | null = null
  private readonly boot = randomUUID()
  private closed = false
  private readonly sockets = new Set<WebSocket>()
  private readonly answered = new WeakSet<WebSocket>()
  private readonly heartbeat: ReturnType<typeof setInterval>

  constructor(
    private readonly fleet: () => Fleet,
    private readonly catalogue: Catalogue,
    private readonly rounds: () => RoundsHere,
    private readonly state: HubState,
  ) {
    this.heartbeat = setInterval(() => this.ping(), PING_EVERY_MS)
  }

  broadcast(message: FromServer): void {
    // What follows from a pose must not be known before it.
    this.tellPoses()
    const text = JSON.stringify(message)
    for (const socket of this.sockets) this.give(socket, text)
  }

  private give(socket: WebSocket, text: string): void {
    if (socket.bufferedAmount > GONE_BYTES) socket.terminate()
    else socket.send(text)
  }

  pose(camera: string, pose: LivePose | null): void {
    this.poses.set(camera, pose)
    this.gathering ??= setTimeout(() => this.tellPoses(), GATHER_MS)
  }

  accept(socket: WebSocket): void {
    this.sockets.add(socket)
    this.answered.add(socket)
    const deadMan = new DeadMan(realClock, (camera, push) => this.fleet().drive(camera, push))
    const tell = (message: FromServer) => this.give(socket, JSON.stringify(message))
    const browser: Browser = {
      person: '',
      tell,
      deadMan,
      name: () => browser.person || 'Somebody else',
      lost: (camera) => deadMan.lose(camera),
    }
    this.browsers.add(browser)
    socket.on('pong', () => this.answered.add(socket))
    socket.on('close', () => {
      this.sockets.delete(socket)
      this.browsers.delete(browser)
      deadMan.letGo()
      this.claims.leave(browser)
    })
    socket.on('error', () => socket.terminate())
    const budget = new Budget(MESSAGES_PER_SEC, MESSAGES_AT_ONCE, performance.now())
    const astray = new Budget(ASTRAY_PER_SEC, ASTRAY_AT_ONCE, performance.now())
    socket.on('message', (data, binary) => {
      if (this.closed) return
      if (!budget.take(performance.now())) return socket.close(1008, 'too many messages')
      const message = binary ? null : parse(String(data))
      const camera = message && 'camera' in message ? message.camera : null
      const lost = !message || (camera !== null && !this.fleet().get(camera))
      if (lost && !astray.take(performance.now())) return socket.close(1008, 'too many messages astray')
      if (!message)
        return tell({ t: 'notice', camera: null, text: 'The page and the server differ: reload the page.' })
      this.obey(message, browser)
    })
    tell({ t: 'hello', boot: this.boot, interrupted: this.state.interrupted() })
    tell({ t: 'guarded', is: this.state.guarded() })
    tell(posesMessage(new Map(this.fleet().all.map(({ row, camera }) => [row.id, camera.pose]))))
    for (const { row, camera } of this.fleet().all) {
      tell({ t: 'health', camera: row.id, health: camera.health, able: camera.capabilities })
      tell({ t: 'travel', camera: row.id, travel: camera.travel })
      const holder = this.claims.holderOf(row.id)
      if (holder) tell({ t: 'claim', camera: row.id, holder: holder.name(), mine: false })
    }
    for (const [camera, round] of this.rounds().all) tell({ t: 'round', camera, round })
  }

  close(): void {
    this.closed = true
    clearInterval(this.heartbeat)
    if (this.gathering) clearTimeout(this.gathering)
    for (const socket of this.sockets) socket.close(1001)
  }

  private tellPoses(): void {
    if (this.gathering) clearTimeout(this.gathering)
    this.gathering = null
    if (this.poses.size === 0) return
    const text = JSON.stringify(posesMessage(this.poses))
    this.poses.clear()
    for (const socket of this.sockets) if (socket.bufferedAmount <= BEHIND_BYTES) socket.send(text)
  }

  private ping(): void {
    for (const socket of this.sockets) {
      // A laptop that was closed leaves its socket open for minutes: no pong, no socket.
      if (!this.answered.delete(socket)) socket.terminate()
      else socket.ping()
    }
  }

  private obey(message: ToServer, browser: Browser): void {
    const { deadMan } = browser
    switch (message.t) {
      case 'stick': {
        const { camera, pan, tilt, zoom, focus } = message
        const rest = pan === 0 && tilt === 0 && zoom === 0 && focus === 0
        // Letting go is always allowed: it stops no one else.
        if (rest ? this.claims.holderOf(camera) !== browser : !this.claims.take(camera, browser)) return
        deadMan.stick(camera, { pan, tilt, zoom, focus })
        if (!rest) this.rounds().handOn(camera)
        return
      }
      case 'finger':
        this.finger(message, browser)
        return
      case 'letGo':
        deadMan.letGo()
        return
      case 'takeOver':
        this.claims.takeOver(message.camera, browser)
        return
      case 'person':
        browser.person = message.name
        this.claims.renamed(browser)
        return
      default:
        void this.order(message, browser).then((result) =>
          browser.tell({
            t: 'result',
            request: message.request,
            ok: result.ok,
            message: result.ok ? null : result.message,
          }),
        )
    }
  }

  private finger(message: ToServer & { t: 'finger' }, browser: Browser): void {
    const { camera: id, phase, u, v } = message
    const camera = this.fleet().get(id)?.camera
    if (!camera || !this.claims.take(id, browser)) return
    this.rounds().handOn(id)
    if (phase === 'up') {
      browser.deadMan.lifted(id)
      camera.moveFinger(u, v)
      camera.release()
      return
    }
    browser.deadMan.held(id)
    if (phase === 'down') camera.hold(u, v)
    else camera.moveFinger(u, v)
  }

  private order(message: Order, browser: Browser): Promise<CameraResult> {
    if (message.t === 'recall') return this.recall(message.preset, message.pace, browser)
    const member = this.fleet().get(message.camera)
    if (!member)
      return Promise.resolve({ ok: false, message: 'This camera is switched off in the desk, or gone.' })
    if (!this.claims.take(message.camera, browser)) return Promise.resolve(this.heldBy(message.camera))
    if (message.t === 'startRound') {
      const problem = this.rounds().start(message.camera, message.round)
      return Promise.resolve(problem ? { ok: false, message: problem } : { ok: true })
    }
    this.rounds().handOn(message.camera)
    return carryOut(member.camera, message)
  }

  /**
   * Recalls a preset, unless somebody else drives its camera.
   * @param pace null: the preset's own, or its camera's
   * @param holder null where it comes by the API
   */
  async recall(presetId: string, pace: Pace | null, holder: Holder | null): Promise<CameraResult> {
    const preset = this.catalogue.preset(presetId)
    if (!preset) return { ok: false, message: 'This preset is not there any more.' }
    const { cameraId } = preset
    const member = this.fleet().get(cameraId)
    if (!member) return { ok: false, message: 'Its camera is not in the list any more.' }
    if (!this.claims.take(cameraId, holder)) return this.heldBy(cameraId)
    const own = preset.pace ?? member.row.pace ?? QUICK
    this.rounds().handOn(cameraId)
    const { id, pose, light, parts, memory } = preset
    if (!pose) {
      if (memory === null)
        return { ok: false, message: 'Nothing is known of this preset but its name. Store it anew.' }
      return member.camera.recallMemory(id, memory)
    }
    const hold = member.row.holdPicture
    return member.camera.recall({ id, pose, light, pace: pace ?? own, parts, hold })
  }

  /** Why somebody else may not use this camera now; null where nobody drives it. */
  driverOf(camera: string): string | null {
    return this.claims.holderOf(camera)?.name() ?? null
  }

  private heldBy(camera: string): CameraResult {
    const name = this.claims.holderOf(camera)?.name() ?? 'Somebody else'
    return { ok: false, message: `${name} drives this camera. Take it over first, or wait two seconds.` }
  }

  private tellClaim(camera: string, holder: Holder | null): void {
    for (const browser of this.browsers)
      browser.tell({ t: 'claim', camera, holder: holder?.name() ?? null, mine: holder === browser })
  }

  /** Stored data changed: every page reads it again. */
  async changed(): Promise<void> {
    await this.catalogue.refresh()
    await this.fleet().sync(this.catalogue.current)
    this.broadcast({ t: 'changed' })
  }
}

function parse(text: string): ToServer | null {
  try {
    const result = v.safeParse(ToServer, JSON.parse(text))
    return result.success ? result.output : null
  } catch {
    return null
  }
}
