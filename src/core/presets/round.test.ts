import * as v from 'valibot'
import { type Round, RoundOrder, roundWords } from './round'

const round = (change: Partial<Round>): string =>
  roundWords({
    kind: 'pictures',
    state: 'running',
    total: 12,
    through: 3,
    taken: 3,
    empty: 0,
    paused: false,
    bump: null,
    bumped: false,
    at: '4 Lapwings',
    troubles: [],
    reason: null,
    ...change,
  })

test('an operator reads how far it is, what came of it, and why it stopped', () => {
  expect(round({})).toBe('3 of 12, 3 pictures renewed. Now 4 Lapwings')
  expect(round({ total: 0, through: 0, taken: 0, at: 'Holding…' })).toBe('Holding…')
  expect(round({ state: 'finished', through: 12, taken: 1 })).toBe('Done: 1 picture renewed.')
  expect(round({ kind: 'memories', taken: 1, empty: 2, at: 'memory 4' })).toBe(
    '3 of 12, 1 memory taken in, 2 empty. Now memory 4',
  )
  expect(round({ state: 'stopped', reason: 'Somebody else moves the camera now.' })).toBe(
    'Stopped after 3 of 12: 3 pictures renewed. Somebody else moves the camera now.',
  )
  expect(round({ state: 'stopped' })).toBe('Stopped after 3 of 12: 3 pictures renewed.')
})

test('memories are numbered from 1, and a range does not run backwards', () => {
  const taken = (order: object) => v.is(RoundOrder, order)
  expect(taken({ kind: 'memories', from: 1, to: 128 })).toBe(true)
  expect(taken({ kind: 'memories', from: 5, to: 5 })).toBe(true)
  for (const [from, to] of [
    [0, 4],
    [9, 3],
    [1, 129],
    [1.5, 3],
  ])
    expect(taken({ kind: 'memories', from, to })).toBe(false)
})
