import type { Actor } from '../../core/orders/actors'
import { MAY_ALL } from '../../core/people/may'
import { HandClock } from '../cameras/testing/handClock'
import { MemoryClaims } from './claims'

function setUp() {
  const clock = new HandClock()
  const told: [string, string | null][] = []
  const busy = new Set<string>()
  const claims = new MemoryClaims(
    clock,
    (camera) => busy.has(camera),
    (camera, holder) => told.push([camera, holder?.name() ?? null]),
  )
  const person = (name: string): Actor => ({
    kind: 'browser',
    id: name,
    name: () => name,
    may: MAY_ALL,
  })
  return { clock, told, claims, busy, wren: person('Wren'), rail: person('Rail') }
}

test('a claim lasts while its holder drives and two seconds after', async () => {
  const { clock, told, claims, wren } = setUp()
  for (let i = 0; i < 5; i++) {
    claims.hold('a', wren)
    await clock.run(1500)
    expect(claims.holderOf('a')).toBe(wren)
  }
  await clock.run(600)
  expect(claims.holderOf('a')).toBeNull()
  expect(told).toEqual([
    ['a', 'Wren'],
    ['a', null],
  ])
})

test('it lasts as long as the motion that it caused: an eight second recall, and two seconds more', async () => {
  const { clock, claims, busy, wren } = setUp()
  claims.hold('a', wren)
  busy.add('a')
  await clock.run(8000)
  expect(claims.holderOf('a')).toBe(wren)
  busy.delete('a')
  await clock.run(1700)
  expect(claims.holderOf('a')).toBe(wren)
  await clock.run(600)
  expect(claims.holderOf('a')).toBeNull()
})

test('another takes it at once, and what the first had is not given back by its old alarm', async () => {
  const { clock, claims, wren, rail } = setUp()
  claims.hold('a', wren)
  await clock.run(1900)
  claims.hold('a', rail)
  await clock.run(1000)
  expect(claims.holderOf('a')).toBe(rail)
  expect(claims.heldBy(wren)).toEqual([])
})
