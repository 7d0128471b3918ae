import { HandClock } from '../cameras/handClock'
import { Claims, type Holder } from './claims'

function setUp() {
  const clock = new HandClock()
  const told: [string, string | null][] = []
  const claims = new Claims(clock, (camera, holder) => told.push([camera, holder?.name() ?? null]))
  const lost: string[] = []
  const person = (name: string): Holder => ({
    name: () => name,
    lost: (camera) => lost.push(`${name} ${camera}`),
  })
  return { clock, told, claims, lost, wren: person('Wren'), rail: person('Rail') }
}

test('the first to drive holds the camera while they drive and two seconds after', async () => {
  const { clock, told, claims, wren, rail } = setUp()
  for (let i = 0; i < 5; i++) {
    expect(claims.take('a', wren)).toBe(true)
    await clock.run(1500)
    expect(claims.take('a', rail)).toBe(false)
  }
  // Another camera is free meanwhile, and so is an order that comes without a hand where nobody drives.
  expect(claims.take('b', rail)).toBe(true)
  expect(claims.take('a', null)).toBe(false)
  expect(claims.take('c', null)).toBe(true)
  await clock.run(2100)
  expect(claims.take('a', rail)).toBe(true)
  expect(told).toEqual([
    ['a', 'Wren'],
    ['b', 'Rail'],
    ['a', null],
    ['b', null],
    ['a', 'Rail'],
  ])
})

test('taken over: the other loses it at once and cannot drive on', () => {
  const { claims, lost, wren, rail } = setUp()
  claims.take('a', wren)
  claims.takeOver('a', rail)
  expect(lost).toEqual(['Wren a'])
  expect(claims.take('a', wren)).toBe(false)
  expect(claims.take('a', rail)).toBe(true)
})

test('a browser that is gone holds nothing', () => {
  const { told, claims, wren, rail } = setUp()
  claims.take('a', wren)
  claims.leave(wren)
  expect(claims.holderOf('a')).toBeNull()
  expect(claims.take('a', rail)).toBe(true)
  expect(told.slice(0, 2)).toEqual([
    ['a', 'Wren'],
    ['a', null],
  ])
})
