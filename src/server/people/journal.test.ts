/** The log of who did what: kept in order, through a database that is away, without being flooded. */
import type { CameraOrder } from '../../core/orders/orders'
import { MAY_ALL } from '../../core/people/may'
import { HandClock } from '../cameras/testing/handClock'
import type { NewEntry } from '../store/journal'
import { Journal, type NewLine } from './journal'
import { lineOf, type OrderNames } from './orderJournal'

const LINE: NewLine = {
  person: 'Wren',
  kind: 'recall',
  camera: '1 Gallery',
  what: 'Recalled 4 Lapwings',
  refused: null,
}

function setUp() {
  const clock = new HandClock()
  const kept: NewEntry[] = []
  const world = { away: false, failures: 0, batches: 0 }
  const journal = new Journal({
    clock,
    wallMs: () => 1_000_000 + clock.now(),
    event: () => 'Quiz',
    async keep(entries) {
      world.batches += 1
      if (world.away) throw new Error('no database')
      kept.push(...entries)
    },
    failed: () => {
      world.failures += 1
    },
  })
  return { clock, kept, world, journal }
}

test('lines are kept together a moment later, in their order, with the event that was open', async () => {
  const { clock, kept, world, journal } = setUp()
  for (let i = 0; i < 20; i++) journal.write({ ...LINE, what: `${i}` })
  expect(kept).toEqual([])
  await clock.run(400)
  expect(kept.map(({ what }) => what)).toEqual(Array.from({ length: 20 }, (_, i) => `${i}`))
  expect([world.batches, kept[0]!.eventName]).toEqual([1, 'Quiz'])
})

test('while the database is away they wait, and none is kept twice or lost', async () => {
  const { clock, kept, world, journal } = setUp()
  world.away = true
  for (let i = 0; i < 1200; i++) {
    journal.write({ ...LINE, what: `${i}` })
    if (i % 100 === 0) await clock.run(500)
  }
  expect(kept).toEqual([])
  expect(world.failures).toBeGreaterThan(1)
  world.away = false
  await clock.run(10_000)
  expect(kept.map(({ what }) => what)).toEqual(Array.from({ length: 1200 }, (_, i) => `${i}`))
})

test('a stick that is refused again and again is one line, until some time has passed', async () => {
  const { clock, kept, journal } = setUp()
  const refused = { ...LINE, refused: 'You may not drive cameras here.' }
  for (let i = 0; i < 50; i++) {
    journal.write(refused)
    await clock.run(100)
  }
  await clock.run(400)
  expect(kept).toHaveLength(1)
  await clock.run(11_000)
  journal.write(refused)
  // What is done is always told, however often.
  for (let i = 0; i < 3; i++) journal.write(LINE)
  await clock.run(400)
  expect(kept).toHaveLength(5)
})

const NAMES: OrderNames = { camera: () => '1 Gallery', preset: () => '4 Lapwings', move: () => 'Sweep' }
const actor = (kind: 'browser' | 'server') => ({ kind, id: 'x', name: () => 'Wren', may: MAY_ALL })
const said = (
  order: object,
  how: { confirmed?: boolean; result?: object } = {},
  kind: 'browser' | 'server' = 'browser',
) =>
  lineOf(
    order as CameraOrder,
    'c',
    actor(kind),
    { confirmed: false, result: { ok: true }, ...how } as never,
    NAMES,
  )

test('what an order says: recalls and moves by name, decisions of the guard as such, settings and the server not at all', () => {
  expect(said({ t: 'recall', preset: 'p' })).toEqual(LINE)
  const asked = { ok: false, message: 'It is on air.', ask: true }
  expect(said({ t: 'recall', preset: 'p' }, { result: asked })).toMatchObject({
    kind: 'guard',
    refused: 'It is on air.',
  })
  expect(said({ t: 'recall', preset: 'p' }, { confirmed: true })).toMatchObject({
    ...{ kind: 'guard', what: 'Recalled 4 Lapwings, confirmed', refused: null },
  })
  const eased = { ok: true, said: 'Lectern is on air: it moves gently, in 4 s.' }
  expect(said({ t: 'recall', preset: 'p' }, { result: eased })).toMatchObject({
    ...{ kind: 'guard', what: 'Recalled 4 Lapwings (Lectern is on air: it moves gently, in 4 s)' },
  })
  expect(said({ t: 'memory', action: 'set', number: 3 })).toMatchObject({ kind: 'store' })
  expect(said({ t: 'aim' })).toMatchObject({ kind: 'drive', what: 'Aimed' })
  for (const quiet of [{ t: 'setting' }, { t: 'lamp' }, { t: 'focusOnce' }, { t: 'menu', action: 'up' }])
    expect(said(quiet)).toBeNull()
  expect(said({ t: 'recall', preset: 'p' }, {}, 'server')).toBeNull()
})
