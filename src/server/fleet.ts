/** All cameras of the open venue, each with its driver and its picture. */
import { headProfile } from '../core/heads/registry'
import type { Health } from '../core/live/messages'
import type { LivePose } from '../core/presets/pose'
import type { Travel } from '../core/presets/standing'
import type { Camera } from './cameras/camera'
import { realClock } from './cameras/clock'
import { ViscaCamera } from './cameras/visca/viscaCamera'
import { openUdp } from './links/udp'
import type { CameraRow } from './store/catalogue'
import { PictureSource } from './video/source'

export interface FleetEvents {
  pose(camera: string, pose: LivePose | null): void
  health(camera: string, health: Health): void
  travel(camera: string, travel: Travel | null): void
  notice(camera: string, text: string): void
}

export interface Member {
  row: CameraRow
  camera: Camera
  pictures: PictureSource
}

export class Fleet {
  private readonly members = new Map<string, Member>()

  constructor(private readonly events: FleetEvents) {}

  get all(): readonly Member[] {
    return [...this.members.values()]
  }

  get(id: string): Member | null {
    return this.members.get(id) ?? null
  }

  add(row: CameraRow): void {
    const { events } = this
    const camera = new ViscaCamera(
      headProfile(row.headProfile),
      `${row.host}:${row.port}`,
      openUdp(row.host, row.port),
      {
        pose: (pose) => events.pose(row.id, pose),
        health: (health) => events.health(row.id, health),
        travel: (travel) => events.travel(row.id, travel),
        notice: (text) => events.notice(row.id, text),
      },
      realClock,
    )
    this.members.set(row.id, { row, camera, pictures: new PictureSource(row.streamUrl, row.snapshotUrl) })
  }

  async close(): Promise<void> {
    for (const { pictures } of this.all) pictures.close()
    await Promise.all(this.all.map(({ camera }) => camera.close()))
    this.members.clear()
  }
}
