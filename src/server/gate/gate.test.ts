/**
 * Gate and hub with cameras of the real driver, in virtual time: hands, recalls, rounds and lost connections
 * in seeded order. Nothing moves without a holder, and a camera that was let go stands.
 */
import { EventEmitter } from 'node:events'
import type { FromServer, ToServerMessage } from '../../core/live/messages'
import { SERVER_ITSELF } from '../../core/orders/actors'
import { AS_USUAL } from '../../core/orders/entries'
import { OFF_AIR } from '../../core/orders/guard'
import type { OnAir } from '../../core/orders/guardSettings'
import { RULES } from '../../core/orders/rules'
import { MAY_ALL, type May } from '../../core/people/may'
import { OWNER } from '../../core/people/rights'
import { seeded } from '../../core/seeded'
import { PUSH_AT_REST, type Push, pushRests } from '../../core/stick/speeds'
import type { CameraResult } from '../cameras/camera'
import { HandClock } from '../cameras/testing/handClock'
import { MemoryFacts } from '../facts/facts'
import { LiveHub, type PageSocket } from '../live/hub'
import type { Visitor } from '../people/people'
import { MemoryClaims } from './claims'
import { Gate } from './gate'

/** A camera as the gate sees it: what pushes it, and for how long an order still moves it. */
class Pushed {
  push: Push = PUSH_AT_REST
  finger = false
  travelsUntilMs = 0
  halts = 0
  eased: number | null = null
  constructor(
    readonly row: { id: string; name: string },
    private readonly clock: HandClock,
  ) {}
  readonly camera = {
    drive: (push: Push) => {
      this.push = push
      this.finger = false
      if (!pushRests(push)) this.travelsUntilMs = 0
    },
    // As the steering has it: a finger takes the place of a stick, and all that a hand moves ends with it.
    finger: (phase: 'down' | 'move' | 'up') => {
      if (phase === 'move') return
      this.finger = phase === 'down'
      this.push = PUSH_AT_REST
      if (phase === 'down') this.travelsUntilMs = 0
    },
    ease: (seconds: number) => {
      this.eased = seconds
    },
    halt: () => {
      this.halts += 1
      this.push = PUSH_AT_REST
      this.finger = false
      this.travelsUntilMs = 0
    },
  }
  get byHand() {
    return this.finger || !pushRests(this.push)
  }
  get moves() {
    return this.byHand || this.travelsUntilMs > this.clock.now()
  }
}

class Page extends EventEmitter {
  bufferedAmount = 0
  heard: FromServer[] = []
  gone = false
  send(text: string) {
    const message = JSON.parse(text) as FromServer
    // How long its way takes is another test's.
    if (message.t !== 'way') this.heard.push(message)
  }
  close() {
    this.terminate()
  }
  terminate() {
    if (this.gone) return
    this.gone = true
    this.emit('close')
  }
  ping() {
    if (!this.gone) this.emit('pong')
  }
  say(message: ToServerMessage | string) {
    this.emit('message', typeof message === 'string' ? message : JSON.stringify(message), false)
  }
  /** Who holds a camera, as this page was told. */
  holder(camera: string): string | null {
    const told = this.heard.flatMap((m) => (m.t === 'facts' ? m.facts : []))
    const claim = told.filter((f) => f.kind === 'claim' && f.about === camera).at(-1)
    return claim?.kind === 'claim' ? (claim.value?.by ?? null) : null
  }
  get me(): string {
    const hello = this.heard[0]
    return hello?.t === 'hello' ? hello.page : ''
  }
}

const NAMES = ['a', 'b', 'c']

const visitor = (session: string, may: May): Visitor => ({
  ...{
    session,
    person: session,
    name: () => session,
    grant: () => OWNER,
    may: () => may,
    endsAt: () => null,
  },
})
const ALL = visitor('all', MAY_ALL)
/** Recalls and drives camera a, and knows of no other. */
const HELPER = visitor('helper', {
  ...MAY_ALL,
  everywhere: false,
  rights: new Set(['see', 'recall', 'drive']),
  camera: (id) => id === 'a',
  drives: (id) => id === 'a',
})

function setUp() {
  const clock = new HandClock()
  const facts = new MemoryFacts(clock)
  const cameras = new Map(NAMES.map((id) => [id, new Pushed({ id, name: id }, clock)]))
  const claims = new MemoryClaims(
    clock,
    (id) => cameras.get(id)?.moves ?? false,
    (id, holder) => facts.put('claim', id, holder ? { by: holder.id, name: holder.name() } : null),
  )
  const taken: string[] = []
  const onAir: { now: Omit<OnAir, 'confirmed'> } = { now: OFF_AIR }
  const gate: Gate = new Gate({
    rules: RULES,
    claims,
    memberOf: (id) => cameras.get(id) ?? null,
    members: () => [...cameras.values()],
    presetOf: () => null,
    cameraOf: (order) => (order.t === 'recall' ? order.preset.split('-')[0]! : order.camera),
    async carryOut(order, id): Promise<CameraResult> {
      if (order.t === 'recall') cameras.get(id)!.travelsUntilMs = clock.now() + 8000
      return { ok: true }
    },
    taken: (id, by) => taken.push(`${id} ${by.kind}`),
    onAir: () => onAir.now,
    refusedHand: (_camera, by, text) => hub.tellPage(by.id, { t: 'notice', camera: null, text }),
    failed: () => {},
  })
  const hub: LiveHub = new LiveHub({
    gate,
    facts,
    clock,
    has: (id) => cameras.has(id),
    interrupted: () => null,
  })
  const open = (visitor: Visitor = ALL) => {
    const page = new Page()
    hub.accept(page as unknown as PageSocket, visitor)
    return page
  }
  return { clock, facts, cameras, claims, gate, hub, open, taken, onAir }
}

const stick = (camera: string, pan: number): ToServerMessage => ({
  t: 'stick',
  ...{ camera, pan, tilt: 0, zoom: 0, focus: 0 },
})

test.each(Array.from({ length: 60 }, (_, i) => i + 1))('seed %i', async (seed) => {
  const random = seeded(seed)
  const { clock, cameras, claims, open } = setUp()
  let pages = [open(), open(), open()]
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!
  for (let i = 0; i < 150; i++) {
    const page = pick(pages)
    const camera = pick(NAMES)
    const dice = random()
    if (dice < 0.35) page.say(stick(camera, random() * 2 - 1))
    else if (dice < 0.45) page.say(stick(camera, 0))
    else if (dice < 0.6)
      page.say({ t: 'finger', phase: pick(['down', 'move', 'up'] as const), camera, u: 0, v: 0 })
    else if (dice < 0.72) page.say({ t: 'recall', request: i, preset: `${camera}-1` })
    else if (dice < 0.8) page.say({ t: 'takeOver', camera })
    else if (dice < 0.86) page.say({ t: 'letGo' })
    else if (dice < 0.93) {
      page.terminate()
      pages = [...pages.filter((p) => p !== page), open()]
    } else page.say('{"t":"nonsense"')
    await clock.run(random() < 0.2 ? random() * 3000 : random() * 90)
    for (const { row, moves, byHand } of cameras.values()) {
      const holder = claims.holderOf(row.id)
      if (!moves) continue
      // A recall goes on when its page is gone; a hand that is gone moves nothing.
      if (byHand) expect(holder).not.toBeNull()
      if (byHand) expect(pages.some((p) => p.me === holder!.id)).toBe(true)
    }
  }
  // Whatever was held: once every hand is gone, all that a hand moved stands, and everything is free.
  for (const page of pages) page.terminate()
  expect([...cameras.values()].some((c) => c.byHand)).toBe(false)
  await clock.run(11_000)
  expect(NAMES.map((id) => claims.holderOf(id))).toEqual([null, null, null])
})

test('a stick that falls silent stands after 300 ms, and so does one that is taken over', async () => {
  const { clock, cameras, open } = setUp()
  const [wren, rail] = [open(), open()]
  const camera = cameras.get('a')!
  wren.say(stick('a', 1))
  await clock.run(290)
  expect(camera.byHand).toBe(true)
  await clock.run(20)
  expect(camera.byHand).toBe(false)
  wren.say(stick('a', 1))
  rail.say({ t: 'takeOver', camera: 'a' })
  expect(camera.byHand).toBe(false)
  wren.say(stick('a', 1))
  expect(camera.byHand).toBe(false)
  rail.say(stick('a', -1))
  // What the former hand still says does not stop the new one.
  wren.say(stick('a', 0))
  wren.say({ t: 'letGo' })
  await clock.run(250)
  expect(camera.push.pan).toBe(-1)
})

test('an eight second recall belongs to who gave it: another hand is refused until it has stood for two seconds', async () => {
  const { clock, cameras, open } = setUp()
  const [wren, rail] = [open(), open()]
  wren.say({ t: 'recall', request: 1, preset: 'a-1' })
  await clock.run(5000)
  rail.say(stick('a', 1))
  rail.say({ t: 'recall', request: 2, preset: 'a-2' })
  await clock.run(10)
  expect(cameras.get('a')!.byHand).toBe(false)
  expect(rail.heard.at(-1)).toMatchObject({
    t: 'result',
    ok: false,
    message: /Somebody else drives/ as never,
  })
  expect(rail.holder('a')).toBe(wren.me)
  await clock.run(5500)
  rail.say(stick('a', 1))
  expect(cameras.get('a')!.byHand).toBe(true)
})

test('every door is the same gate: a program is refused what a hand holds, and a stop never is', async () => {
  const { clock, cameras, gate, open, taken } = setUp()
  const wren = open()
  const program = { ...SERVER_ITSELF, kind: 'api' as const, id: 'api' }
  wren.say(stick('a', 1))
  const power = (camera: string) => gate.perform({ t: 'power', camera, on: false }, program)
  expect(await power('a')).toMatchObject({ ok: false, message: expect.stringMatching(/drives this camera/) })
  expect(await power('b')).toEqual({ ok: true })
  gate.halt()
  expect([...cameras.values()].map((c) => [c.halts, c.byHand])).toEqual(NAMES.map(() => [1, false]))
  expect(taken).toContain('a server')
  // A hand takes a camera from a program at once.
  await gate.perform({ t: 'recall', preset: 'c-1', ...AS_USUAL, whole: false }, program)
  wren.say(stick('c', 1))
  expect(cameras.get('c')!.byHand).toBe(true)
  await clock.run(10)
})

test('a page that comes is told all that is known, poses last told first; one that is behind gets no more poses', async () => {
  const { clock, facts, open } = setUp()
  const pose = { panDeg: 1, tiltDeg: 0, zoom: 0, focusAuto: true, focus: null, encoder: null }
  const live = { ...pose, hfovDeg: 60, power: true, moving: false, held: false, late: false, atMs: 1 }
  facts.put('pose', 'a', live)
  facts.put('claim', 'a', null)
  const early = open()
  expect(early.heard[1]).toMatchObject({ t: 'facts', facts: [{ kind: 'pose' }, { kind: 'claim' }] })
  // Gathered for 20 ms; what follows from a pose is not known before it.
  facts.put('pose', 'a', { ...live, panDeg: 2 })
  facts.put('pose', 'b', live)
  facts.put('pose', 'a', { ...live, panDeg: 3 })
  expect(early.heard).toHaveLength(2)
  facts.put('travel', 'a', null)
  expect(early.heard[2]).toMatchObject({
    facts: [{ about: 'b' }, { about: 'a', value: { panDeg: 3 } }, { kind: 'travel' }],
  })
  early.bufferedAmount = 1e6
  facts.put('pose', 'a', live)
  await clock.run(30)
  expect(early.heard).toHaveLength(3)
  facts.put('travel', 'a', null)
  expect(early.heard).toHaveLength(4)
  facts.forget('a')
  expect(facts.all.some((f) => f.about === 'a')).toBe(false)
})

test('a request with the key of a page counts as that page, and no other', () => {
  const { hub, open } = setUp()
  const page = open()
  const hello = page.heard[0]!
  const key = hello.t === 'hello' ? hello.key : ''
  expect(hub.actorWith(key, 'all')?.id).toBe(page.me)
  expect([hub.actorWith('', 'all'), hub.actorWith(page.me, 'all')]).toEqual([null, null])
  // What one browser has seen is of no use to another.
  expect(hub.actorWith(key, 'other')).toBeNull()
  page.terminate()
  expect(hub.actorWith(key, 'all')).toBeNull()
})

test('a stick that is pushed when its camera comes on air is held back at once, and a travel becomes gentle', async () => {
  const { cameras, gate, open, onAir } = setUp()
  const page = open()
  page.say(stick('a', 1))
  expect(cameras.get('a')!.push.pan).toBe(1)
  onAir.now = { ...OFF_AIR, tally: 'program', speed: 0.25 }
  gate.cameOnAir('a')
  expect(cameras.get('a')!.push.pan).toBe(0.25)
  expect(cameras.get('a')!.eased).toBe(8)
  // Refused, it stands; and the page is told why.
  onAir.now = { ...onAir.now, guard: { ...OFF_AIR.guard, mode: 'refuse' } }
  gate.cameOnAir('a')
  expect(cameras.get('a')!.push.pan).toBe(0)
  expect(page.heard.at(-1)).toMatchObject({ t: 'notice', text: expect.stringMatching(/on air/) })
  // Off air again, the hand that still pushes has it again.
  onAir.now = OFF_AIR
  page.say(stick('a', 1))
  expect(cameras.get('a')!.push.pan).toBe(1)
})

test('what the guard asks about is done once it is confirmed, and what it eased is said', async () => {
  const { clock, cameras, open, onAir } = setUp()
  const page = open()
  const recall = (request: number, confirmed: boolean): ToServerMessage => ({
    t: 'recall',
    preset: 'a-1',
    ...{ request, confirmed },
  })
  const result = (request: number) => page.heard.find((m) => m.t === 'result' && m.request === request)
  onAir.now = { ...OFF_AIR, tally: 'unknown' }
  page.say(recall(1, false))
  await clock.run(10)
  expect(result(1)).toMatchObject({ ok: true, message: expect.stringMatching(/gently, in 8 s/) })
  onAir.now = { ...onAir.now, guard: { ...OFF_AIR.guard, mode: 'ask' } }
  cameras.get('a')!.travelsUntilMs = 0
  page.say(recall(2, false))
  await clock.run(10)
  expect(result(2)).toMatchObject({ ok: false, ask: true })
  expect(cameras.get('a')!.travelsUntilMs).toBe(0)
  page.say(recall(3, true))
  await clock.run(10)
  expect(result(3)).toMatchObject({ ok: true })
  expect(cameras.get('a')!.travelsUntilMs).toBeGreaterThan(0)
})

test('a helper hears of the cameras that they reach alone, and drives no other', async () => {
  const { facts, cameras, hub, open, clock } = setUp()
  const [page, all] = [open(HELPER), open()]
  for (const id of NAMES) facts.put('claim', id, { by: 'x', name: `somebody at ${id}` })
  hub.broadcast({ t: 'notice', camera: 'b', text: 'b has trouble' })
  hub.broadcast({ t: 'notice', camera: null, text: 'a, b and c were stopped' })
  hub.broadcast({ t: 'notice', camera: 'a', text: 'a has trouble' })
  await clock.run(100)
  const about = (p: Page) =>
    new Set(p.heard.flatMap((m) => (m.t === 'facts' ? m.facts.map((f) => f.about) : [])))
  expect(about(page)).toEqual(new Set(['a']))
  expect(about(all)).toEqual(new Set(NAMES))
  expect(JSON.stringify(page.heard)).not.toMatch(/b has trouble|b and c/)
  for (const id of NAMES) facts.put('claim', id, null)
  page.say(stick('b', 1))
  page.say({ t: 'takeOver', camera: 'b' })
  expect([cameras.get('b')!.moves, page.holder('b')]).toEqual([false, null])
  page.say(stick('a', 1))
  expect(cameras.get('a')!.moves).toBe(true)
})

test('a session that is ended in mid-drive leaves its camera standing, and is heard no more', async () => {
  const { cameras, hub, open, clock } = setUp()
  const [page, other] = [open(HELPER), open()]
  page.say(stick('a', 1))
  other.say(stick('b', 1))
  expect(cameras.get('a')!.moves).toBe(true)
  hub.end(new Set(['helper']))
  expect([cameras.get('a')!.moves, cameras.get('a')!.halts, page.gone]).toEqual([false, 1, true])
  // What was still on its way.
  page.say(stick('a', 1))
  await clock.run(50)
  expect([cameras.get('a')!.moves, cameras.get('b')!.moves, other.gone]).toEqual([false, true, false])
})

test('a recall that is under way ends with the session that gave it', async () => {
  const { cameras, hub, open, clock } = setUp()
  const page = open(HELPER)
  page.say({ t: 'recall', request: 1, preset: 'a-1' })
  await clock.run(20)
  expect(cameras.get('a')!.moves).toBe(true)
  hub.end(new Set(['helper']))
  expect(cameras.get('a')!.moves).toBe(false)
})
