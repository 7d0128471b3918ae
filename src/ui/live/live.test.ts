import { Live } from './live'

class FakeSocket {
  static all: FakeSocket[] = []
  static readonly OPEN = 1
  readyState = 0
  sent: Record<string, unknown>[] = []
  binaryType = ''
  onopen = () => {}
  onclose = (_: { code: number }) => {}
  onmessage = (_: { data: string }) => {}
  constructor(readonly url: string) {
    FakeSocket.all.push(this)
  }
  send(text: string) {
    this.sent.push(JSON.parse(text))
  }
  close() {}
  open() {
    this.readyState = 1
    this.onopen()
  }
  drop() {
    this.readyState = 3
    this.onclose({ code: 1006 })
  }
  tell(message: object) {
    this.onmessage({ data: JSON.stringify(message) })
  }
}

const pose = {
  panDeg: 1,
  tiltDeg: 2,
  zoom: 3,
  focusAuto: true,
  focus: null,
  hfovDeg: 60,
  power: true,
  moving: false,
  atMs: 0,
}
const newest = () => FakeSocket.all.at(-1)!

beforeEach(() => {
  jest.useFakeTimers()
  FakeSocket.all = []
  global.WebSocket = FakeSocket as unknown as typeof WebSocket
})
afterEach(() => jest.useRealTimers())

const facts = (...told: [kind: string, about: string, value: unknown][]) =>
  newest().tell({ t: 'facts', facts: told.map(([kind, about, value]) => ({ kind, about, value })) })

test('facts reach those who subscribed to them; a lost server takes back what was known', () => {
  const live = new Live()
  const seen: unknown[] = []
  live.facts.subscribe('pose', 'a', () => seen.push(live.fact('pose', 'a')))
  expect(live.connected).toBeNull()
  newest().open()
  expect(live.connected).toBe(true)
  facts(['pose', 'a', pose], ['pose', 'b', pose])
  expect(seen).toEqual([pose])
  newest().drop()
  expect(live.connected).toBe(false)
  expect(live.fact('pose', 'a')).toBeNull()
  jest.advanceTimersByTime(400)
  expect(FakeSocket.all).toHaveLength(2)
  newest().open()
  expect(live.connected).toBe(true)
})

test('without its server the page claims nothing of a camera, and a round that ran is told to be over', () => {
  const live = new Live()
  newest().open()
  const round = (camera: string, state: 'running' | 'finished') =>
    facts(['round', camera, { kind: 'pictures', state, taken: 3, reason: null }])
  facts(['health', 'a', { state: 'ready' }], ['able', 'a', { zoom: true }])
  facts(['travel', 'a', { presetId: 'p', state: 'travelling' }])
  round('a', 'running')
  round('b', 'finished')
  newest().drop()
  expect([live.fact('health', 'a'), live.fact('travel', 'a')]).toEqual([null, null])
  expect(live.fact('able', 'a')).toEqual({ zoom: true })
  expect(live.fact('round', 'a')).toMatchObject({
    state: 'stopped',
    taken: 3,
    reason: expect.stringMatching(/lost/),
  })
  expect(live.fact('round', 'b')).toMatchObject({ state: 'finished' })
  // Of a server that was only out of reach it comes again.
  jest.advanceTimersByTime(400)
  newest().open()
  round('a', 'running')
  expect(live.fact('round', 'a')).toMatchObject({ state: 'running' })
})

test('a page knows itself by what the server calls it, until it has lost its server', () => {
  const live = new Live()
  newest().open()
  newest().tell({ t: 'hello', boot: 'x', page: 'me', key: 'secret', interrupted: null })
  expect([live.isMe('me'), live.isMe('you'), live.pageKey]).toEqual([true, false, 'secret'])
  newest().drop()
  expect([live.isMe('me'), live.pageKey]).toEqual([false, ''])
})

test('an order is answered, refused, lost with its server, or given up', async () => {
  const live = new Live()
  expect(await live.order({ t: 'recall', preset: 'p' })).toMatchObject({
    ok: false,
    message: expect.stringContaining('lost its server'),
  })
  newest().open()
  const done = live.order({ t: 'recall', preset: 'p' })
  newest().tell({ t: 'result', request: newest().sent.at(-1)!.request, ok: true, message: null })
  expect(await done).toMatchObject({ ok: true })
  const refused = live.order({ t: 'focusMode', camera: 'a', auto: false })
  newest().tell({ t: 'result', request: newest().sent.at(-1)!.request, ok: false, message: 'Busy.' })
  expect(await refused).toMatchObject({ ok: false, message: 'Busy.' })
  const late = live.order({ t: 'recall', preset: 'p' })
  jest.advanceTimersByTime(5001)
  expect(await late).toMatchObject({ ok: false })
  const dropped = live.order({ t: 'recall', preset: 'p' })
  newest().drop()
  expect(await dropped).toMatchObject({ ok: false })
})

test('changed data and a restarted server make the page read again', () => {
  const live = new Live()
  const read = jest.fn()
  live.onChanged = read
  newest().open()
  newest().tell({ t: 'hello', boot: 'x' })
  newest().tell({ t: 'changed' })
  expect(read).toHaveBeenCalledTimes(2)
})
