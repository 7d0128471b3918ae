import * as v from 'valibot'
import { can } from './capabilities'
import { afterLoss, FACTS, Fact, type FactKind } from './facts'
import { isUsable } from './health'

const ABLE = {
  ...{ panTilt: true, zoom: true, focus: true, position: { panTilt: true, zoom: true } },
  ...{ orders: ['home', 'light'], settings: [], subject: null, memories: 0, device: null },
}
const ROUND = {
  ...{ kind: 'pictures' as const, total: 3, through: 1, taken: 1, empty: 0, paused: false },
  ...{ bump: null, bumped: false },
  ...{ at: '2 Bitterns', troubles: [], reason: null },
}

test('a fact is of a kind that is known, with a value that suits it', () => {
  expect(v.is(Fact, { kind: 'guarded', about: 'server', value: true })).toBe(true)
  expect(v.is(Fact, { kind: 'able', about: 'c', value: ABLE })).toBe(true)
  expect(v.is(Fact, { kind: 'guarded', about: 'server', value: 'yes' })).toBe(false)
  expect(v.is(Fact, { kind: 'mood', about: 'c', value: null })).toBe(false)
  for (const kind of Object.keys(FACTS)) expect(v.is(Fact, { kind, about: 'c', value: null })).toBe(true)
})

test('of what a lost server said nothing is claimed, but what does not change with it', () => {
  const gone: FactKind[] = ['pose', 'health', 'travel', 'claim', 'settings', 'guarded']
  for (const kind of gone) expect(afterLoss(kind, {} as never)).toBeNull()
  expect(afterLoss('able', ABLE)).toBe(ABLE)
  expect(afterLoss('round', { ...ROUND, state: 'running' })).toMatchObject({
    state: 'stopped',
    taken: 1,
    reason: expect.stringMatching(/lost/),
  })
  const done = { ...ROUND, state: 'finished' as const }
  expect(afterLoss('round', done)).toBe(done)
})

test('what a camera can follows from its orders', () => {
  expect([can(ABLE, 'home'), can(ABLE, 'light'), can(ABLE, 'focusAt'), can(null, 'home')]).toEqual([
    true,
    true,
    false,
    false,
  ])
  expect([isUsable('unheard'), isUsable('slow'), isUsable('standby')]).toEqual([true, true, false])
})
