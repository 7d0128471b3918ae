/** The live socket of each browser: sticks and orders in, poses, health and events out. */
import { randomUUID } from 'node:crypto'
import * as v from 'valibot'
import type { WebSocket } from 'ws'
import { type FromServer, ToServer } from '../../core/live/messages'
import type { LivePose } from '../../core/presets/pose'
import type { Camera, CameraResult } from '../cameras/camera'
import { realClock } from '../cameras/clock'
import type { Fleet } from '../fleet'
import type { Catalogue } from '../store/catalogue'
import { DeadMan } from './deadMan'

const PING_EVERY_MS = 5000
/** Poses are gathered this long: twenty moving heads are one message instead of twenty, ms. */
const GATHER_MS = 20
/** A browser this far behind gets poses no more until it has caught up, bytes. */
const BEHIND_BYTES = 256 * 1024

/** Recalls a preset by id: the one way for socket and API. */
export type Recall = (presetId: string) => Promise<CameraResult>

const posesMessage = (poses: ReadonlyMap<string, LivePose | null>): FromServer => ({
  t: 'poses',
  poses: [...poses].map(([camera, pose]) => ({ camera, pose })),
})

export class LiveHub {
  private readonly poses = new Map<string, LivePose | null>()
  private gathering: ReturnType<typeof setTimeout> | null = null
  private readonly boot = randomUUID()
  private readonly sockets = new Set<WebSocket>()
  private readonly answered = new WeakSet<WebSocket>()
  private readonly heartbeat: ReturnType<typeof setInterval>

  constructor(
    private readonly fleet: () => Fleet,
    private readonly recall: Recall,
    private readonly catalogue: Catalogue,
  ) {
    this.heartbeat = setInterval(() => this.ping(), PING_EVERY_MS)
  }

  broadcast(message: FromServer): void {
    // What follows from a pose must not be known before it.
    this.tellPoses()
    const text = JSON.stringify(message)
    for (const socket of this.sockets) socket.send(text)
  }

  pose(camera: string, pose: LivePose | null): void {
    this.poses.set(camera, pose)
    this.gathering ??= setTimeout(() => this.tellPoses(), GATHER_MS)
  }

  accept(socket: WebSocket): void {
    this.sockets.add(socket)
    this.answered.add(socket)
    const deadMan = new DeadMan(realClock, (camera, sticks) => this.fleet().drive(camera, sticks))
    const tell = (message: FromServer) => socket.send(JSON.stringify(message))
    socket.on('pong', () => this.answered.add(socket))
    socket.on('close', () => {
      this.sockets.delete(socket)
      deadMan.letGo()
    })
    socket.on('error', () => socket.terminate())
    socket.on('message', (data, binary) => {
      const message = binary ? null : parse(String(data))
      if (!message)
        return tell({ t: 'notice', camera: null, text: 'The page and the server differ: reload the page.' })
      this.obey(message, deadMan, tell)
    })
    tell({ t: 'hello', boot: this.boot })
    tell(posesMessage(new Map(this.fleet().all.map(({ row, camera }) => [row.id, camera.pose]))))
    for (const { row, camera } of this.fleet().all) {
      tell({ t: 'health', camera: row.id, health: camera.health, able: camera.capabilities })
      tell({ t: 'travel', camera: row.id, travel: camera.travel })
    }
  }

  close(): void {
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

  private obey(message: ToServer, deadMan: DeadMan, tell: (message: FromServer) => void): void {
    const report = (request: number) => (result: CameraResult) =>
      tell({ t: 'result', request, ok: result.ok, message: result.ok ? null : result.message })
    switch (message.t) {
      case 'stick': {
        const { pan, tilt, zoom, focus } = message
        deadMan.stick(message.camera, { pan, tilt, zoom, focus })
        return
      }
      case 'letGo':
        deadMan.letGo()
        return
      case 'recall':
        void this.recall(message.preset).then(report(message.request))
        return
      case 'focusMode':
        void this.order(message.camera, (camera) => camera.setFocusMode(message.auto)).then(
          report(message.request),
        )
        return
      case 'power':
        void this.order(message.camera, (camera) => camera.setPower(message.on)).then(report(message.request))
        return
      case 'home':
        void this.order(message.camera, (camera) => camera.home()).then(report(message.request))
    }
  }

  private order(id: string, act: (camera: Camera) => Promise<CameraResult>): Promise<CameraResult> {
    const member = this.fleet().get(id)
    if (!member)
      return Promise.resolve({ ok: false, message: 'This camera is switched off in the desk, or gone.' })
    return act(member.camera)
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
