/** Puts together who is here: people, the log, and what both need to know of the desk. */
import { eq } from 'drizzle-orm'
import type { Context } from 'hono'
import { isUsable } from '../../core/facts/health'
import { type Actor, PROGRAM } from '../../core/orders/actors'
import type { CameraOrder } from '../../core/orders/orders'
import type { CameraResult } from '../cameras/camera'
import { realClock } from '../cameras/clock'
import type { Facts } from '../facts/facts'
import type { LiveHub } from '../live/hub'
import { log } from '../log'
import type { Catalogue } from '../store/catalogue'
import type { Database } from '../store/database'
import { addEntries, dropEntries, readDays } from '../store/journal'
import { passkeyStore } from '../store/passkeys'
import { peopleStore } from '../store/people'
import { preset } from '../store/schema'
import type { SecretBox } from '../store/secrets'
import { pageKey, visitorOf } from './door'
import { Journal } from './journal'
import { lineOf, type OrderNames } from './orderJournal'
import { Passkeys } from './passkeys'
import { People, type Visitor } from './people'
import type { RouteGuardDeps } from './routeGuard'

const SWEEP_MS = 500
const DAY_MS = 86_400_000

export interface PeopleNeeds {
  db: Database
  secrets: SecretBox
  catalogue: Catalogue
  facts: Pick<Facts, 'listen'>
  reachable: boolean
  newOwner: boolean
  ended(sessions: ReadonlySet<string>): void
}

export async function openPeople(needs: PeopleNeeds) {
  const { db, catalogue, facts, secrets, reachable } = needs
  const view = () => catalogue.current?.view ?? null
  const cameraName = (id: string) => {
    const found = view()?.cameras.find((camera) => camera.id === id)
    return found ? `${found.number} ${found.name}` : ''
  }
  const journal = new Journal({
    clock: realClock,
    wallMs: () => Date.now(),
    event: () => view()?.event.name ?? '',
    keep: (entries) => addEntries(db, entries),
    failed: (error) => log.error({ err: error }, 'the log of who did what could not be kept'),
  })
  /** Requests that come without a page, by session. */
  const programs = new Map<string, Actor>()
  const people = await People.open({
    ...{ secrets, reachable, store: peopleStore(db) },
    open: () => ({
      version: catalogue.current,
      event: view()?.event.id ?? null,
      desk: (id) => view()?.show.desks.find((desk) => desk.id === id) ?? null,
      cameraOf: (id) => catalogue.preset(id)?.cameraId ?? null,
    }),
    nowMs: () => Date.now(),
    log: (person, what, refused) => journal.write({ person, kind: 'people', camera: '', what, refused }),
  })
  people.onEnded((sessions) => {
    needs.ended(sessions)
    for (const session of sessions) programs.delete(session)
  })
  const ownerLink = needs.newOwner || (reachable && people.nobody) ? people.openOwnerLink() : null

  const names: OrderNames = {
    camera: cameraName,
    preset: (id) => {
      const found = catalogue.preset(id)
      return found ? `${found.number} ${found.name}` : 'a preset that is gone'
    },
    move: (id) => view()?.show.moves.find((move) => move.id === id)?.name ?? 'a recorded move',
  }
  const usable = new Map<string, boolean>()
  facts.listen((all) => {
    for (const { kind, about, value } of all) {
      if (kind !== 'health' || value === null) continue
      const is = isUsable(value.state)
      const was = usable.get(about)
      usable.set(about, is)
      // At the start it has only just been looked at.
      if (was === undefined || was === is) continue
      const what = is ? 'Answers again' : `Trouble: ${value.advice ?? value.state}`
      journal.write({ person: '', kind: 'camera', camera: cameraName(about), what, refused: null })
    }
  })

  const guard: RouteGuardDeps = {
    async preset(id) {
      const known = catalogue.preset(id)
      if (known) return known
      // One that was removed can be brought back.
      if (!/^[0-9a-f-]{36}$/i.test(id)) return null
      const [row] = await db.select().from(preset).where(eq(preset.id, id))
      return row ? { id, cameraId: row.cameraId, section: row.section, name: row.name } : null
    },
    cameraName,
    log: journal.write,
  }

  const programOf = (session: string, visitor: Visitor | null = null): Actor => {
    const known = programs.get(session)
    if (known || !visitor) return known ?? { ...PROGRAM, id: `api ${session}` }
    const made: Actor = {
      kind: 'api',
      id: `api ${session}`,
      name: () => (visitor.person === null ? PROGRAM.name() : visitor.name()),
      get may() {
        return visitor.may()
      },
    }
    programs.set(session, made)
    return made
  }

  const sweep = setInterval(() => people.sweep(), SWEEP_MS)
  const drop = async () => {
    const days = await readDays(db)
    await dropEntries(db, new Date(Date.now() - days * DAY_MS))
  }
  const dropping = setInterval(() => void drop().catch(() => {}), DAY_MS / 4)
  void drop().catch(() => {})

  return {
    people,
    passkeys: new Passkeys(people, passkeyStore(db), () => Date.now()),
    journal,
    guard,
    programOf,
    ownerPath: ownerLink === null ? null : `/owner/${ownerLink}`,
    actorOf(c: Context, hub: Pick<LiveHub, 'actorWith'>): Actor {
      const visitor = visitorOf(c)
      if (!visitor) return PROGRAM
      return hub.actorWith(pageKey(c), visitor.session) ?? programOf(visitor.session, visitor)
    },
    ordered(
      order: CameraOrder,
      camera: string,
      actor: Actor,
      how: { result: CameraResult; confirmed: boolean },
    ): void {
      const line = lineOf(order, camera, actor, how, names)
      if (line) journal.write(line)
    },
    refusedHand(camera: string, actor: Actor, why: string): void {
      const what = 'Driving by hand'
      journal.write({ person: actor.name(), kind: 'drive', camera: cameraName(camera), what, refused: why })
    },
    tookOver(camera: string, actor: Actor, former: Actor): void {
      const what = `Taken over from ${former.name()}`
      journal.write({
        person: actor.name(),
        kind: 'takeOver',
        camera: cameraName(camera),
        what,
        refused: null,
      })
    },
    async close(): Promise<void> {
      clearInterval(sweep)
      clearInterval(dropping)
      await journal.settled()
    },
  }
}
