/** All cameras of the open venue that are switched on in the desk, each with its driver and its picture. */
import type { Secrets } from '../core/cameras/connection'
import { sameComputer } from '../core/cameras/keptSecrets'
import { type Health, isUsable, type LinkState } from '../core/facts/health'
import { profileOf } from '../core/heads/registry'
import { PROGRAM_PICTURE } from '../core/live/pictureFrame'
import type { Learnt } from '../core/motion/follow/ledger'
import { NO_LIMITS } from '../core/stick/speeds'
import type { Camera } from './cameras/camera'
import { realClock } from './cameras/clock'
import { makeCamera } from './cameras/makeCamera'
import { History } from './cameras/report/history'
import { Traffic } from './cameras/report/traffic'
import { SerialLines } from './cameras/visca/serialLine'
import type { Facts } from './facts/facts'
import type { Guardian } from './guardian/guardian'
import type { Jobs } from './jobs/jobs'
import type { CameraRow } from './store/cameras'
import type { Snapshot } from './store/catalogue'
import type { Feed } from './video/frame'
import { PictureHub } from './video/pictureHub'

export interface FleetNeeds {
  facts: Facts
  /** A sentence about a camera, for the operator. */
  notice(camera: string, text: string): void
  /** To be kept with the camera. */
  learnt(camera: string, learnt: Learnt): void
  guardian: Guardian
  /** Cameras that may still run from before this server began; each is stopped once. */
  suspects: Set<string>
  jobs: Jobs
}

export interface Member {
  row: CameraRow
  camera: Camera
  pictures: Feed
  traffic: Traffic
  history: History
  /** What its driver and picture were made from: if this changes, they are recreated. */
  made: { driver: string; picture: string }
}

const tuningOf = ({ mount, limits, holdPicture, leash }: CameraRow) => ({
  mount,
  limits: limits ?? NO_LIMITS,
  hold: holdPicture,
  leash,
})

export class Fleet {
  readonly lines = new SerialLines(realClock)
  private readonly members = new Map<string, Member>()
  private readonly hub: PictureHub
  private program: Feed | null = null
  private programUrl: string | null = null
  private work: Promise<void> = Promise.resolve()

  constructor(private readonly needs: FleetNeeds) {
    this.hub = new PictureHub(needs.jobs)
  }

  get all(): readonly Member[] {
    return [...this.members.values()]
  }

  /** The picture of a camera, or of the switcher's program; null if there is no such thing. */
  picturesOf(id: string): Feed | null {
    return id === PROGRAM_PICTURE ? this.program : (this.members.get(id)?.pictures ?? null)
  }

  get(id: string): Member | null {
    return this.members.get(id) ?? null
  }

  /** Makes the fleet what the snapshot says: only what changed is closed and opened. */
  sync(snapshot: Snapshot | null): Promise<void> {
    const mine = this.work.then(() => this.apply(snapshot))
    this.work = mine.catch(() => {})
    return mine
  }

  async close(): Promise<void> {
    await this.work
    this.hub.close()
    await Promise.all(this.all.map(({ camera }) => camera.close()))
    this.members.clear()
  }

  private async apply(snapshot: Snapshot | null): Promise<void> {
    const rows = (snapshot?.cameraRows ?? []).filter((row) => row.enabled)
    const plans = new Map(rows.map((row) => [row.id, this.plan(row, snapshot!)]))
    const stale = this.all.filter((m) => m.made.driver !== plans.get(m.row.id)?.driver)
    // Closing first frees a serial port, or a device's only connection.
    await Promise.all(stale.map(({ camera }) => camera.close()))
    for (const { row } of stale) {
      this.members.delete(row.id)
      this.needs.facts.forget(row.id)
    }
    for (const id of stale.map((m) => m.row.id)) if (!plans.has(id)) this.hub.remove(id)
    for (const row of rows) this.addOrKeep(row, plans.get(row.id)!, snapshot!)
    this.showProgram(snapshot)
  }

  private showProgram(snapshot: Snapshot | null): void {
    const { enabled = false, pictureUrl = null } = snapshot?.view.tally.switcher ?? {}
    const url = enabled ? pictureUrl : null
    if (url === this.programUrl) return
    this.programUrl = url
    this.hub.remove(PROGRAM_PICTURE)
    if (url) this.hub.add(PROGRAM_PICTURE, { kind: 'mjpeg', url, user: '', openly: false }, '')
    this.program = url ? this.hub.get(PROGRAM_PICTURE) : null
  }

  private plan(row: CameraRow, snapshot: Snapshot): Member['made'] {
    const { connection } = row
    const secrets = snapshot.secrets.get(row.id) ?? {}
    const parts = connection.kind === 'rig' ? [connection.head, connection.lens] : [connection]
    const sets = parts.map((part) => (part.kind === 'commands' ? snapshot.commandSets.get(part.set) : null))
    return {
      driver: JSON.stringify([
        connection,
        profileOf(row.headProfile, snapshot.view.headProfiles),
        row.headConfirmed,
        secrets.link,
        secrets.lens,
        sets,
      ]),
      picture: JSON.stringify([row.picture, this.picturePassword(row, secrets)]),
    }
  }

  private picturePassword(row: CameraRow, secrets: Secrets): string {
    const { connection, picture } = row
    const linkUser = 'user' in connection ? connection.user : ''
    const user = 'user' in picture ? picture.user : ''
    // Of the same user at the same computer it is the same password, unless another was entered.
    const shared = user !== '' && user === linkUser && sameComputer(row)
    return secrets.picture ?? (shared ? (secrets.link ?? '') : '')
  }

  private addOrKeep(row: CameraRow, made: Member['made'], snapshot: Snapshot): void {
    const known = this.members.get(row.id)
    const secrets = snapshot.secrets.get(row.id) ?? {}
    if (known?.made.picture !== made.picture) {
      this.hub.remove(row.id)
      this.hub.add(row.id, row.picture, this.picturePassword(row, secrets))
    }
    const pictures = this.hub.get(row.id)
    if (known) {
      known.camera.configure(tuningOf(row))
      this.members.set(row.id, { ...known, row, pictures, made })
      return
    }
    const { facts, notice } = this.needs
    const suspect = this.needs.suspects.delete(row.id)
    const traffic = new Traffic(realClock)
    const history = new History(realClock)
    let state: LinkState | null = null
    /** A failure is what comes after it has answered. */
    const see = (health: Health) => {
      history.see(health)
      const fails = health.state === 'silent' || health.state === 'refused'
      if (fails && state !== null && isUsable(state)) traffic.failed(health.advice ?? health.state)
      state = health.state
    }
    const camera = makeCamera(
      {
        connection: row.connection,
        profile: profileOf(row.headProfile, snapshot.view.headProfiles),
        confirmed: row.headConfirmed,
        secrets,
        commandSets: snapshot.commandSets,
        lines: this.lines,
        clock: realClock,
        camera: { id: row.id, name: row.name },
        guardian: this.needs.guardian,
        suspect,
        traffic,
        learnt: row.learnt,
      },
      {
        fact(kind, value) {
          if (kind === 'health' && value) see(value as Health)
          facts.put(kind, row.id, value)
        },
        notice: (text) => notice(row.id, text),
        learnt: (learnt) => this.needs.learnt(row.id, learnt),
      },
    )
    camera.configure(tuningOf(row))
    this.members.set(row.id, { row, camera, pictures, made, traffic, history })
  }
}
