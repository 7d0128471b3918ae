/** Puts the server together: door, API, pages, sockets. */
import { sql } from 'drizzle-orm'
import { SERVER } from '../core/facts/facts'
import { isUsable } from '../core/facts/health'
import { SERVER_ITSELF } from '../core/orders/actors'
import { USUAL_GUARD } from '../core/orders/guardSettings'
import { RULES } from '../core/orders/rules'
import { NO_TALLY } from '../core/tally/sources'
import { NO_SWITCHER } from '../core/tally/switcher'
import { createApi } from './api'
import { realClock } from './cameras/clock'
import { type Cues, openCues } from './cues/openCues'
import { MemoryFacts } from './facts/facts'
import { Finder } from './finding/finder'
import { Fleet } from './fleet'
import { carryOut } from './gate/carryOut'
import { MemoryClaims } from './gate/claims'
import { Gate } from './gate/gate'
import { type GuardianClient, NO_GUARDIAN } from './guardian/guardian'
import { openHttp } from './http/openHttp'
import type { Tls } from './http/tls'
import { createJobs } from './jobs/pool'
import { pinnedCertificates } from './links/certificates'
import { FactSockets } from './live/factSocket'
import { makeHalves } from './live/halves'
import { LiveHub } from './live/hub'
import { log } from './log'
import { LoopWatch } from './loopWatch'
import type { Outside } from './people/arrival'
import { openPeople } from './people/openPeople'
import { FormerSettings } from './picture/former'
import { holdPicture } from './picture/heldPicture'
import { Looks, WHOLE_LOOK } from './picture/looks'
import { Matching } from './picture/matching'
import { keepFirstVisits } from './presets/firstVisits'
import { roundStore } from './presets/roundStore'
import { Rounds } from './presets/rounds'
import { RemoteKeys } from './remote/keys'
import { actorBehind, openRemote } from './remote/openRemote'
import { keepLearnt } from './store/cameras'
import { Catalogue, type Changed } from './store/catalogue'
import { keepCertificate, readCertificates } from './store/certificates'
import type { Database } from './store/database'
import { type DemoSource, usesStandIns } from './store/demo'
import { formerStore } from './store/former'
import type { SecretBox } from './store/secrets'
import { keepSpoken } from './store/tally'
import { Lamps } from './tally/lamps'
import { Switching } from './tally/switching'
import { TallyDesk } from './tally/tally'
import { Imports } from './venues/imports'
import { openBackups } from './venues/openBackups'
import { venueSchema } from './venues/schemas'

/** A patch that is touched, as a share of the picture's width. */
const PATCH = 0.035

export interface AppOptions {
  db: Database
  databaseUrl: string
  secrets: SecretBox
  host: string
  port: number
  /** Where backups of venues go. */
  dataFolder: string
  /** The built pages. */
  webFolder: string
  /** Names under which it may be asked. */
  hosts(): ReadonlySet<string>
  outside: Outside
  tls: Tls | null
  /** Others than this computer itself reach the server. */
  reachable: boolean
  /** Where they reach it. */
  addresses(): string[]
  /** An owner is forgotten: a link that makes another is wanted. */
  newOwner: boolean
  guardian: GuardianClient | null
  /** Cameras that moved when the former server was lost: each is stopped before anything else is sent to it. */
  moved: readonly { camera: string; name: string }[]
  /** What the former server left undone, in a sentence for every page that comes. */
  interrupted: string | null
  demo: DemoSource
  /** Are the stand-in cameras needed now? */
  standIns(needed: boolean): void
}

export interface RunningApp {
  /** The path of a link that makes an owner; null: none is open. */
  ownerPath: string | null
  /** Something every page must show. */
  notice(text: string): void
  /** Stops every camera at once. */
  haltAll(): void
  close(): Promise<void>
}

/** How long after a restart a page that comes is told what it interrupted, ms. */
const NEWS_FOR_MS = 300_000
/** How long an answer waits for the list to be read again, ms. */
const FOLLOWS_WITHIN_MS = 2500
const FOLLOW_AGAIN_MS = 1000

const HELD_UP = (lateMs: number) =>
  `This computer was held up for ${(lateMs / 1000).toFixed(1)} s, so the cameras that were moving have been stopped. Continue when you are ready.`
const NO_GUARD =
  'The guardian has ended and is being restarted. While “no guardian” is shown above, nothing would stop the cameras if this server failed too.'

export async function startApp(options: AppOptions): Promise<RunningApp> {
  const { db, guardian } = options
  const startedMs = performance.now()
  let { interrupted } = options
  const loop = new LoopWatch()
  const jobs = createJobs()
  pinnedCertificates(await readCertificates(db), (certificate) => {
    keepCertificate(db, certificate).catch((error) =>
      log.error({ err: error, origin: certificate.origin }, 'a certificate could not be kept'),
    )
  })
  const catalogue = new Catalogue(db, options.secrets)
  await catalogue.refresh()
  const suspects = new Set(options.moved.map((m) => m.camera))
  const facts = new MemoryFacts(realClock)
  const guarded = () => guardian?.watching ?? false
  facts.put('guarded', SERVER, guarded())
  const notice = (camera: string | null, text: string) => hub.broadcast({ t: 'notice', camera, text })
  const fleet: Fleet = new Fleet({
    ...{ guardian: guardian ?? NO_GUARDIAN, suspects, jobs, facts, notice },
    learnt: (camera, learnt) =>
      void keepLearnt(db, camera, learnt).catch((error) =>
        log.error({ err: error, camera }, 'what was learnt of a camera could not be kept'),
      ),
  })
  const claims = new MemoryClaims(
    realClock,
    (camera) => fleet.get(camera)?.camera.busy ?? false,
    (camera, holder) =>
      facts.put(
        'claim',
        camera,
        // A round gives way to any hand, so it keeps nobody from driving.
        holder?.kind === 'browser' ? { by: holder.id, name: holder.name() } : null,
      ),
  )
  const gate: Gate = new Gate({
    rules: RULES,
    claims,
    memberOf: (id) => fleet.get(id),
    members: () => fleet.all,
    cameraOf: (order) =>
      order.t === 'recall' ? (catalogue.preset(order.preset)?.cameraId ?? null) : order.camera,
    presetOf: (id) => catalogue.preset(id),
    carryOut: carryOut({
      memberOf: (id) => fleet.get(id),
      preset: (id) => catalogue.preset(id),
      move: (id) => cues.world().move(id),
      look: (id, camera) => void recallWithPreset(id, camera),
      startRound: (camera, order) => rounds.start(camera, order),
    }),
    taken(camera, by) {
      rounds.taken(camera, by)
      cues.desk.taken(camera, by)
    },
    onAir(camera) {
      const guard = catalogue.current?.view.event.guard ?? USUAL_GUARD
      return {
        guard,
        tally: tally.of(camera)?.state ?? 'off',
        speed: guard.speeds[camera] ?? guard.speed,
      }
    },
    refusedHand(camera, by, text) {
      hub.tellPage(by.id, { t: 'notice', camera, text })
      door.refusedHand(camera, by, text)
    },
    done: (order, camera, by, how) => door.ordered(order, camera, by, how),
    tookOver: (camera, by, former) => door.tookOver(camera, by, former),
    failed: (camera, error) => log.error({ err: error, camera }, 'a camera could not be stopped'),
  })
  const hub: LiveHub = new LiveHub({
    gate,
    facts,
    clock: realClock,
    has: (camera) => fleet.get(camera) !== null,
    // A page opened an hour later would take it for news.
    interrupted: () => (performance.now() - startedMs < NEWS_FOR_MS ? interrupted : null),
  })
  const door = await openPeople({
    ...{ db, secrets: options.secrets, catalogue, facts, reachable: options.reachable },
    newOwner: options.newOwner,
    ended(sessions) {
      hub.end(sessions)
      for (const session of sessions) gate.dismiss(door.programOf(session))
    },
  })
  const rounds = new Rounds({
    memberOf: (camera) => fleet.get(camera),
    storeOf: (member) => roundStore({ db, catalogue, jobs, changed }, member),
    gate,
    clock: realClock,
    tell: (camera, round) => facts.put('round', camera, round),
    hold(camera) {
      const { number, name } = fleet.get(camera)?.row ?? { number: 0, name: '' }
      const what = `${number} ${name} photographed the room`
      return holdPicture({ facts, gate, looks, clock: realClock }, camera, what)
    },
  })
  keepFirstVisits({ db, clock: realClock, facts, catalogue, fleet: () => fleet, changed })
  const lamps = new Lamps({ perform: (order, actor) => gate.perform(order, actor) })
  let tallyVenue: string | null = null
  const tally: TallyDesk = new TallyDesk({
    clock: realClock,
    // The wall's clock may jump; the length of a silence must not.
    wallMs: () => performance.timeOrigin + performance.now(),
    tell(camera, value) {
      const before = facts.get('tally', camera)?.state ?? 'off'
      facts.put('tally', camera, value)
      // Told again without a change, it is no reason to slow what was confirmed.
      const state = value?.state ?? 'off'
      if (state === before) return
      gate.cameOnAir(camera)
      cues.desk.tallied(camera, state)
    },
    lamps,
    keep(spoken) {
      if (tallyVenue)
        keepSpoken(db, tallyVenue, spoken).catch((error) =>
          log.error({ err: error }, 'tally could not be kept'),
        )
    },
    notice: (text) => notice(null, text),
  })
  const switching = new Switching({
    switcher: () => catalogue.current?.view.tally.switcher ?? NO_SWITCHER,
    tally,
    cameras: () => (catalogue.current?.view.cameras ?? []).map(({ id }) => id),
  })
  const former = new FormerSettings(
    formerStore(db, () => catalogue.current?.view.venue.id ?? null),
    realClock,
    (error) => log.error({ err: error }, 'what the cameras were set to could not be kept'),
  )
  const halfDone = await former.news()
  if (halfDone) interrupted = [interrupted, halfDone].filter(Boolean).join(' ')
  const looks = new Looks({
    ...{ facts, gate, former, clock: realClock },
    look: (id) => catalogue.current?.view.show.looks.find((look) => look.id === id) ?? null,
    camera: (id) => catalogue.current?.view.cameras.find((one) => one.id === id) ?? null,
    tally: (id) => tally.of(id)?.state ?? 'off',
  })
  const matching = new Matching({
    ...{ facts, gate, clock: realClock, looks },
    camera: (id) => catalogue.current?.view.cameras.find((one) => one.id === id) ?? null,
    tally: (id) => tally.of(id)?.state ?? 'off',
    async measure(camera, at) {
      const jpeg = await fleet.get(camera)?.pictures.fresh()
      return jpeg ? jobs.run('measurePatches', { jpeg, at, size: PATCH }) : null
    },
  })
  /** On air what would jump is left alone: the recall was confirmed or eased, its look was not. */
  async function recallWithPreset(look: string, camera: string): Promise<void> {
    const recalled = await looks.recall(look, { ...WHOLE_LOOK, cameras: [camera] }, SERVER_ITSELF)
    const why = recalled.is === 'done' ? recalled.problems.join(' ') : recalled.why
    if (why) notice(camera, `The look of the preset was not set. ${why}`)
  }
  const cues: Cues = openCues({
    ...{ looks, db, catalogue, facts, gate, notice: (text) => notice(null, text) },
    tally: () => tally,
    switchTo: (action, camera) => switching.act(action, camera),
  })
  const keys = await RemoteKeys.open(db)
  const factSockets = new FactSockets(facts)
  const programs = openRemote({
    ...{ catalogue, facts, gate, notice: (text) => notice(null, text) },
    tally: () => tally,
    api: () => api,
    select: (camera) => hub.broadcast({ t: 'select', camera }),
  })
  const followShow = () =>
    cues.desk.open(catalogue.current?.view.event.id ?? null, catalogue.current?.showKept ?? null)
  facts.listen((all) => {
    for (const fact of all)
      if (fact.kind === 'health') lamps.see(fact.about, fact.value !== null && isUsable(fact.value.state))
  })
  const followTally = () => {
    const { current } = catalogue
    if (!current) return tally.configure(NO_TALLY, [])
    const { venue, cameras } = current.view
    const ids = cameras.map(({ id }) => id)
    tally.configure(current.view.tally, ids)
    if (venue.id === tallyVenue) return
    tallyVenue = venue.id
    tally.restore(current.tallySpoken.filter(({ camera }) => ids.includes(camera)))
  }
  const tellStandIns = () =>
    options.standIns(usesStandIns(catalogue.current?.cameraRows ?? [], options.demo.place))
  let behind: ReturnType<typeof setInterval> | null = null
  async function follow(what: Changed): Promise<void> {
    await catalogue.refresh(what)
    // The drivers do not need presets.
    if (what === 'anything') {
      await fleet.sync(catalogue.current)
      followTally()
      followShow()
      programs.follow()
    }
    hub.broadcast({ t: 'changed' })
    tellStandIns()
    if (behind) clearInterval(behind)
    behind = null
  }
  /**
   * What was stored is stored: that it cannot be read again at once, as the database has just ended, must not
   * be told as if it were not. It is read as soon as the database answers.
   */
  async function changed(what: Changed = 'anything'): Promise<void> {
    const followed = follow(what).then(
      () => true,
      () => false,
    )
    const late = new Promise<boolean>((resolve) => setTimeout(() => resolve(false), FOLLOWS_WITHIN_MS))
    if (await Promise.race([followed, late])) return
    behind ??= setInterval(() => void follow('anything').catch(() => {}), FOLLOW_AGAIN_MS)
  }
  guardian?.listen({
    watching(is) {
      facts.put('guarded', SERVER, is)
      if (!is) notice(null, NO_GUARD)
    },
    stopped(keys, lateMs) {
      const ids = new Set(keys.map((key) => key.split(' ')[0]!))
      // Whatever the guardian told them, this server must make sure that they stand still.
      gate.halt(ids)
      if (ids.size > 0) notice(null, HELD_UP(lateMs))
    },
  })
  tellStandIns()
  await fleet.sync(catalogue.current)
  followTally()
  followShow()
  programs.follow()

  const databaseAnswers = () =>
    db.execute(sql`select 1`).then(
      () => true,
      () => false,
    )
  const finder = new Finder({ lines: fleet.lines, cameras: () => catalogue.current?.view.cameras ?? [] })
  const imports = new Imports({
    jobs,
    databaseUrl: options.databaseUrl,
    dataFolder: options.dataFolder,
    schema: venueSchema(),
  })
  const { dataFolder, databaseUrl } = options
  const backups = openBackups({ dataFolder, databaseUrl, jobs, imports, catalogue })
  const api = createApi({
    backups,
    finder,
    imports,
    db,
    jobs,
    databaseUrl: options.databaseUrl,
    dataFolder: options.dataFolder,
    catalogue,
    secrets: options.secrets,
    fleet: () => fleet,
    databaseAnswers,
    loopDelay: () => loop.delay,
    guarded,
    pages: () => hub.size,
    demo: options.demo,
    rounds,
    tally: () => tally,
    switching: () => switching,
    cues: () => cues,
    looks: () => looks,
    matching: () => matching,
    remote: () => programs.remote,
    keys: () => keys,
    osc: () => programs.osc,
    facts,
    gate,
    actorOf: (c) => actorBehind(c.req.raw) ?? door.actorOf(c, hub),
    people: () => door.people,
    passkeys: () => door.passkeys,
    journal: () => door.journal,
    addresses: options.addresses,
    changed,
  })
  const http = await openHttp(api, options, {
    ...{ hub, factSockets, keys: () => keys, fleet: () => fleet },
    halves: makeHalves(jobs),
    ...{ people: door.people, passkeys: () => door.passkeys, guard: door.guard },
  })

  return {
    ownerPath: door.ownerPath,
    notice: (text) => notice(null, text),
    haltAll() {
      // Hands may still hold their sticks: from now on their messages are ignored.
      hub.close()
      gate.halt()
    },
    async close() {
      if (behind) clearInterval(behind)
      hub.close()
      http.close()
      options.tls?.close()
      programs.close()
      backups.close()
      factSockets.close()
      cues.close()
      looks.close()
      tally.close()
      claims.close()
      facts.close()
      await fleet.close()
      // After the cameras: a database that is away must not keep them moving.
      await door.close()
      loop.close()
      await jobs.close()
    },
  }
}
