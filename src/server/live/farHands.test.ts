/**
 * Hands from far away, in virtual time: messages come late, unevenly, in their order as TCP has it, and are held up
 * for seconds now and then. Whatever happens, no camera runs on longer than 600 ms after the last word of the hand.
 */
import { EventEmitter } from 'node:events'
import { Lateness } from '../../core/live/lateness'
import { LAST_WORD_MS, STICK_REPEAT_MS } from '../../core/live/messages'
import { MAY_ALL } from '../../core/people/may'
import { OWNER } from '../../core/people/rights'
import { seeded } from '../../core/seeded'
import { type Push, pushRests } from '../../core/stick/speeds'
import { HandClock } from '../cameras/testing/handClock'
import { MemoryFacts } from '../facts/facts'
import type { Visitor } from '../people/people'
import { LiveHub, type PageSocket } from './hub'

const ALL: Visitor = {
  ...{
    session: 's',
    person: null,
    name: () => 'Wren',
    grant: () => OWNER,
    may: () => MAY_ALL,
    endsAt: () => null,
  },
}

/** One direction of a connection: what is sent comes in its order, later by this, and stands still for a while. */
class Way {
  private freeMs = 0
  private heldUntilMs = 0
  constructor(
    private readonly clock: HandClock,
    private readonly random: () => number,
    private readonly baseMs: number,
    private readonly jitterMs: number,
  ) {}
  holdUp(ms: number) {
    this.heldUntilMs = this.clock.now() + ms
  }
  send(act: () => void) {
    const now = this.clock.now()
    const at = Math.max(now + this.baseMs + this.random() * this.jitterMs, this.freeMs, this.heldUntilMs)
    this.freeMs = at
    this.clock.after(at - now, act)
  }
}

class FarPage extends EventEmitter {
  bufferedAmount = 0
  constructor(
    private readonly there: Way,
    private readonly back: Way,
  ) {
    super()
  }
  readonly notices: string[] = []
  send(text: string) {
    const message = JSON.parse(text) as { t: string; text?: string }
    if (message.t === 'notice') this.notices.push(message.text ?? '')
  }
  close() {
    this.emit('close')
  }
  terminate() {
    this.emit('close')
  }
  ping() {
    this.back.send(() => this.there.send(() => this.emit('pong')))
  }
  say(message: object) {
    const text = JSON.stringify(message)
    this.there.send(() => this.emit('message', text, false))
  }
}

function setUp(seed: number, baseMs: number, jitterMs: number) {
  const clock = new HandClock()
  const random = seeded(seed)
  const there = new Way(clock, random, baseMs, jitterMs)
  const back = new Way(clock, random, baseMs, jitterMs)
  const driven = { push: null as Push | null, changes: 0 }
  const gate = {
    stick: (_: string, push: Push) => {
      const next = pushRests(push) ? null : push
      if ((next === null) !== (driven.push === null)) driven.changes += 1
      driven.push = next
      return true
    },
    leave: () => {},
    dismiss: () => {},
  }
  const hub = new LiveHub({
    gate: gate as never,
    facts: new MemoryFacts(clock),
    clock,
    has: () => true,
    interrupted: () => null,
  })
  const page = new FarPage(there, back)
  hub.accept(page as unknown as PageSocket, ALL)
  return { clock, random, there, back, driven, page }
}

/** A clock of the page's own, as far from ours as you like. */
const APART_MS = 7_654_321

/** Pushes for a while, as a page does; says at the end that it rests, or is lost. @returns when it said its last word */
async function drive(
  { clock, page, random, there, driven }: ReturnType<typeof setUp>,
  { ms, rests, stalls }: { ms: number; rests: boolean; stalls: boolean },
): Promise<number> {
  const stick = (pan: number) =>
    page.say({ t: 'stick', camera: 'a', pan, tilt: 0, zoom: 0, focus: 0, sentMs: clock.now() + APART_MS })
  const from = clock.now()
  const stallAt = stalls ? from + random() * ms : Number.POSITIVE_INFINITY
  let [word, stalled, nextMs] = [from, false, from]
  while (clock.now() < from + ms) {
    if (!stalled && clock.now() >= stallAt) {
      there.holdUp(2000)
      stalled = true
    }
    if (clock.now() >= nextMs) {
      stick(0.6)
      word = clock.now()
      nextMs += STICK_REPEAT_MS
    }
    await clock.run(10)
    if (driven.push) expect(clock.now() - word).toBeLessThanOrEqual(LAST_WORD_MS)
  }
  if (rests) stick(0)
  return word
}

test('100 drives over 150 ms with 80 ms of jitter and stalls of 2 s: none runs on, and a word that was held up moves nothing', async () => {
  let moved = 0
  for (let seed = 0; seed < 100; seed++) {
    const far = setUp(seed, 150, 80)
    const { clock, random, driven } = far
    // The way is known by then, as it is on a page that has been open for a moment.
    await clock.run(random() * 6000)
    const how = { ms: 400 + random() * 3600, rests: random() < 0.7, stalls: random() < 0.6 }
    const word = await drive(far, how)
    moved += driven.changes
    for (let i = 0; i < 500; i++) {
      await clock.run(10)
      if (driven.push) expect([seed, how, clock.now() - word <= LAST_WORD_MS]).toEqual([seed, how, true])
    }
    expect([seed, driven.push]).toEqual([seed, null])
  }
  // They were driven at all.
  expect(moved).toBeGreaterThan(120)
})

test('without stalls the way’s jitter makes no hand stutter, near or far', async () => {
  for (const [baseMs, jitterMs] of [
    [1, 2],
    [20, 20],
    [150, 80],
    [150, 140],
  ] as const)
    for (let seed = 0; seed < 10; seed++) {
      const far = setUp(seed, baseMs, jitterMs)
      await far.clock.run(1000)
      await drive(far, { ms: 5000, rests: true, stalls: false })
      await far.clock.run(1000)
      expect([baseMs, jitterMs, seed, far.driven.changes]).toEqual([baseMs, jitterMs, seed, 2])
    }
})

test('over a way that is too long for any hand nothing moves, and the hand is told why, not all the time', async () => {
  const far = setUp(3, 700, 40)
  await far.clock.run(6000)
  await drive(far, { ms: 6000, rests: true, stalls: false })
  await far.clock.run(3000)
  expect(far.driven.changes).toBe(0)
  expect(far.page.notices.length).toBeGreaterThanOrEqual(1)
  expect(far.page.notices.length).toBeLessThanOrEqual(3)
  expect(far.page.notices[0]).toMatch(/arrives 0\.7 s late.*Aim, Frame and presets/)
})

test('lateness: clocks that are apart, drift and jump make nothing late for long', () => {
  const lateness = new Lateness()
  const random = seeded(4)
  let worst = 0
  for (let ms = 0; ms < 300_000; ms += 100) {
    const drift = ms * 1e-4
    const late = random() * 50
    worst = Math.max(worst, lateness.late(ms + APART_MS + drift, ms + 30 + late))
  }
  expect(worst).toBeLessThan(60)
  expect(lateness.jitterAt(300_000)).toBeGreaterThan(30)
  expect(lateness.jitterAt(320_000)).toBe(0)
})
