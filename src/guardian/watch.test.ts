import type { Movable } from '../core/guardian/stopOrder'
import { Watch } from './watch'

function setUp(left: { camera: string; name: string }[] = []) {
  const began: string[] = []
  const ended: string[] = []
  const killed: number[] = []
  const told: { keys: string[]; lateMs: number }[] = []
  let kept: string[] = []
  const answered = new Set<string>()
  let now = 0
  const watch = new Watch(
    {
      stop: ({ key }) => {
        began.push(key)
        return {
          get answered() {
            return answered.has(key)
          },
          end: () => void ended.push(key),
        }
      },
      endServer: (pid) => killed.push(pid),
      tellStopped: (keys, lateMs) => told.push({ keys, lateMs }),
      keep: (moving) => {
        kept = moving.map((m) => m.camera)
      },
    },
    left,
    0,
  )
  /** Lets time pass as the guardian's own loop sees it. */
  const pass = (ms: number, beats = false, step = 20) => {
    for (const end = now + ms; now < end; ) {
      now += step
      if (beats) watch.beat()
      watch.tick(now)
    }
  }
  return { watch, began, ended, killed, told, answered, pass, kept: () => kept, now: () => now }
}

const movable = (key: string): Movable => ({ key, camera: key, name: key.toUpperCase(), stops: [] })

test('with beats in time nothing is stopped, whatever moves and however long', () => {
  const { watch, began, killed, pass } = setUp()
  watch.hello(7)
  watch.moves(movable('a'))
  pass(60_000, true)
  expect([began, killed]).toEqual([[], []])
})

test('a beat that is late by 250 ms stops all that moves and nothing else; after 2 s the server is ended, once', () => {
  const { watch, began, killed, pass } = setUp()
  watch.hello(7)
  for (const key of ['a', 'b', 'c']) watch.moves(movable(key))
  watch.rests('b')
  pass(240)
  expect(began).toEqual([])
  pass(40)
  expect(began).toEqual(['a', 'c'])
  pass(1600)
  expect(killed).toEqual([])
  pass(3000)
  expect([killed, began]).toEqual([[7], ['a', 'c']])
})

test('a server that goes on after a hold-up is told what was stopped, and the stopping ends', () => {
  const { watch, began, ended, told, answered, pass } = setUp()
  watch.hello(7)
  watch.moves(movable('a'))
  pass(300)
  answered.add('a')
  pass(100)
  watch.beat()
  expect([began, told]).toEqual([['a'], [{ keys: ['a'], lateMs: 400 }]])
  expect(ended).toContain('a')
  // The next hold-up counts again.
  pass(200, true)
  pass(300)
  expect(began).toEqual(['a', 'a'])
})

test('a pause of the whole computer is not taken for a hang of the server', () => {
  const { watch, began, pass, now } = setUp()
  watch.hello(7)
  watch.moves(movable('a'))
  pass(100, true)
  watch.tick(now() + 5000)
  expect(began).toEqual([])
})

test('a server that is gone without a word: all is stopped until it answers, and the next one is told', () => {
  const { watch, began, ended, answered, pass, kept } = setUp()
  watch.hello(7)
  watch.moves(movable('a'))
  watch.moves(movable('b'))
  expect(kept()).toEqual(['a', 'b'])
  watch.lost(1000, 12_345)
  expect(began).toEqual(['a', 'b'])
  answered.add('a')
  pass(2000)
  expect([ended, watch.idle]).toEqual([['a'], false])
  // One that never answers is given up after ten seconds.
  pass(9000)
  expect([ended, watch.idle]).toEqual([['a', 'b'], true])
  expect(watch.hello(8)).toEqual({
    cameras: [
      { camera: 'a', name: 'A' },
      { camera: 'b', name: 'B' },
    ],
    atMs: 12_345,
  })
  expect(kept()).toEqual([])
})

test('a server that ends by itself leaves nothing to do, and one that comes takes over what is being stopped', () => {
  const one = setUp()
  one.watch.hello(7)
  one.watch.moves(movable('a'))
  one.watch.bye()
  one.watch.lost(10, 10)
  expect([one.began, one.watch.idle]).toEqual([[], true])
  const two = setUp([{ camera: 'x', name: 'X' }])
  // After the power was cut: what had moved was kept in a file.
  expect(two.watch.hello(7).cameras).toEqual([{ camera: 'x', name: 'X' }])
  two.watch.moves(movable('a'))
  two.watch.lost(0, 0)
  two.watch.hello(8)
  expect(two.ended).toEqual(['a'])
})
