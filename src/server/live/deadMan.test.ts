import { PUSH_AT_REST, type Push } from '../../core/stick/speeds'
import { DeadMan } from './deadMan'

const right: Push = { pan: 1, tilt: 0, zoom: 0, focus: 0 }

beforeEach(() => jest.useFakeTimers())
afterEach(() => jest.useRealTimers())

function setUp() {
  const driven: [string, Push][] = []
  const clock = {
    now: () => Date.now(),
    wall: () => Date.now(),
    after: (ms: number, act: () => void) => {
      const timer = setTimeout(act, ms)
      return () => clearTimeout(timer)
    },
  }
  return { driven, deadMan: new DeadMan(clock, (camera, sticks) => driven.push([camera, sticks])) }
}

test('300 ms without a stick message stops the camera; fresh ones keep it going', () => {
  const { driven, deadMan } = setUp()
  for (let i = 0; i < 5; i++) {
    deadMan.stick('a', right)
    jest.advanceTimersByTime(250)
  }
  expect(driven.every(([, s]) => s === right)).toBe(true)
  jest.advanceTimersByTime(51)
  expect(driven.at(-1)).toEqual(['a', PUSH_AT_REST])
  expect(driven).toHaveLength(6)
})

test('letting go stops all that this hand drives, and only that', () => {
  const { driven, deadMan } = setUp()
  deadMan.stick('a', right)
  deadMan.stick('b', right)
  deadMan.stick('b', PUSH_AT_REST)
  deadMan.letGo()
  expect(driven.slice(3)).toEqual([['a', PUSH_AT_REST]])
  jest.advanceTimersByTime(1000)
  expect(driven).toHaveLength(4)
})
