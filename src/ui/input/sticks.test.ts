import type { StickMessage } from '../../core/live/messages'

const mockSent: { t: string }[] = []
jest.mock('../live/live', () => ({ live: () => ({ send: (m: { t: string }) => mockSent.push(m) }) }))
jest.mock('../api/client', () => ({}))

let sticks: typeof import('./sticks')['sticks']

const last = () => mockSent.at(-1) as StickMessage

beforeEach(() => {
  jest.useFakeTimers({ doNotFake: [] })
  jest.resetModules()
  sticks = (require('./sticks') as typeof import('./sticks')).sticks
  sticks.select(['cam'])
  mockSent.length = 0
})
afterEach(() => {
  sticks.letGo()
  jest.useRealTimers()
})

test('a held stick is repeated, a still one is silent', () => {
  sticks.push('pad', { pan: 0.5 })
  expect(mockSent).toHaveLength(1)
  jest.advanceTimersByTime(1000)
  expect(mockSent.length).toBeGreaterThanOrEqual(9)
  expect(mockSent.every((m) => m.t === 'stick')).toBe(true)
  sticks.push('pad', null)
  expect(last()).toMatchObject({ pan: 0, tilt: 0, zoom: 0, focus: 0 })
  const count = mockSent.length
  jest.advanceTimersByTime(1000)
  expect(mockSent).toHaveLength(count)
})

test('a stop never waits for the pace of moves', () => {
  sticks.push('pad', { pan: 0.5 })
  sticks.push('pad', { pan: 0.6 })
  expect(mockSent).toHaveLength(1)
  sticks.push('pad', null)
  expect(mockSent).toHaveLength(2)
  expect(last().pan).toBe(0)
})

test('hands add up, and never beyond full', () => {
  sticks.push('pad', { pan: 0.8 })
  jest.advanceTimersByTime(20)
  sticks.push('ArrowRight', { pan: 0.6 })
  jest.advanceTimersByTime(20)
  expect(last().pan).toBe(1)
  sticks.push('strip', { zoom: -0.4 })
  jest.advanceTimersByTime(20)
  expect(last()).toMatchObject({ pan: 1, zoom: -0.4 })
  sticks.push('pad', null)
  jest.advanceTimersByTime(20)
  expect(last().pan).toBeCloseTo(0.6)
})

test('a hand on one camera, another on the selected ones: each drives its own, and lets go of its own', () => {
  sticks.push('device-a', { pan: 0.5 })
  sticks.push('device-b', { tilt: 0.4 }, 'fixed')
  jest.advanceTimersByTime(150)
  const driven = (camera: string) => mockSent.filter((m) => (m as StickMessage).camera === camera).at(-1)
  expect(driven('cam')).toMatchObject({ pan: 0.5, tilt: 0 })
  expect(driven('fixed')).toMatchObject({ pan: 0, tilt: 0.4 })
  sticks.push('device-b', null, 'fixed')
  expect(driven('cam')).toMatchObject({ pan: 0.5 })
  expect(driven('fixed')).toMatchObject({ tilt: 0 })
  sticks.select(['other'])
  expect(driven('cam')).toMatchObject({ pan: 0 })
})

test('slow and fast are felt at once, and by the speeds of the person for this camera', () => {
  sticks.push('pad', { pan: 0.5, focus: 0.5 })
  sticks.setPace('slow')
  jest.advanceTimersByTime(20)
  expect(last()).toMatchObject({ pan: expect.closeTo(0.15), focus: expect.closeTo(0.15) })
  sticks.setPace('fast')
  jest.advanceTimersByTime(20)
  expect(last().pan).toBe(1)
  sticks.setPace('usual')
  jest.advanceTimersByTime(20)
  expect(last().pan).toBeCloseTo(0.5)
})

test('hiding the page, losing the window, or another camera: all hands off', () => {
  for (const leave of [
    () => window.dispatchEvent(new Event('blur')),
    () => window.dispatchEvent(new Event('pagehide')),
  ]) {
    sticks.push('pad', { tilt: 1 })
    jest.advanceTimersByTime(20)
    leave()
    expect(mockSent.at(-1)).toEqual({ t: 'letGo' })
    expect(mockSent.at(-2)).toMatchObject({ t: 'stick', tilt: 0 })
  }
  sticks.push('pad', { tilt: 1 })
  jest.advanceTimersByTime(20)
  sticks.select(['other'])
  expect(mockSent.at(-1)).toMatchObject({ camera: 'cam', tilt: 0 })
  const count = mockSent.length
  jest.advanceTimersByTime(500)
  expect(mockSent).toHaveLength(count)
})
