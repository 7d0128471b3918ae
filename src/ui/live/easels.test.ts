/** Frames on their way to the canvases, with a socket and pictures that the test makes. */
import { TextDecoder, TextEncoder } from 'node:util'
import { encodePictureFrame } from '../../core/live/pictureFrame'
import { Easels, type Sighting } from './easels'

// Browsers have them; the document of the tests does not.
Object.assign(globalThis, { TextDecoder, TextEncoder })

class FakeSocket {
  static newest: FakeSocket
  static readonly OPEN = 1
  readyState = 1
  binaryType = ''
  said: { t: string; camera?: string; cameras?: { id: string; perSec: number }[] }[] = []
  onopen = () => {}
  onclose = () => {}
  onmessage: (event: { data: unknown }) => void = () => {}
  constructor() {
    FakeSocket.newest = this
  }
  send(text: string) {
    this.said.push(JSON.parse(text))
  }
  close() {}
}

class FakeCanvas {
  width = 0
  height = 0
  drawn: unknown[] = []
  cleared = 0
  getContext() {
    return {
      drawImage: (what: unknown) => this.drawn.push(what),
      clearRect: () => {
        this.cleared += 1
      },
    }
  }
  transferToImageBitmap() {
    return { copyOf: this.drawn[0] }
  }
}

const settle = async () => {
  for (let i = 0; i < 10; i++) await null
}

function setUp() {
  const told = {
    seen: [] as Sighting[],
    troubles: [] as [string, string | null][],
    copies: [] as [number, unknown][],
  }
  const easels = new Easels({
    seen: (sighting) => told.seen.push(sighting),
    trouble: (camera, text) => told.troubles.push([camera, text]),
    copy: (request, bitmap) => told.copies.push([request, bitmap]),
  })
  const canvas = (easel: number) => {
    const made = new FakeCanvas()
    easels.addCanvas(easel, made as unknown as HTMLCanvasElement)
    return made
  }
  const frame = async (
    camera: string,
    byte: number | null,
    { ageMs = 10, sameMs = 0, wayMs = 0, heldUpMs = 0 } = {},
  ) => {
    const jpeg = byte === null ? new Uint8Array(0) : Uint8Array.of(byte)
    // The server's clock is another one, and its frames may be held up on the way.
    const sentMs = 5_000_000 + performance.now() - heldUpMs
    const bytes = encodePictureFrame({ camera, number: 1, ageMs, sameMs, sentMs, wayMs, jpeg })
    FakeSocket.newest.onmessage({ data: Uint8Array.from(bytes).buffer })
    await settle()
  }
  const wanted = () => FakeSocket.newest.said.filter((m) => m.t === 'watch').at(-1)?.cameras
  return { easels, told, canvas, frame, wanted }
}

beforeEach(() => {
  global.WebSocket = FakeSocket as unknown as typeof WebSocket
  Object.assign(global, {
    OffscreenCanvas: FakeCanvas,
    createImageBitmap: async (blob: Blob) => {
      if (blob.size !== 1) throw new Error('no picture')
      return { width: 640, height: 360, close: () => {} }
    },
  })
})

test('a frame is drawn on every canvas that shows its camera, and confirmed', async () => {
  const { easels, canvas, frame, wanted } = setUp()
  const [a, small, b] = [canvas(1), canvas(2), canvas(3)]
  easels.watch(1, 'a', 30)
  easels.watch(2, 'a', 4)
  easels.watch(3, 'b', 4)
  await settle()
  // Each camera once, as often as whoever wants it most.
  expect(wanted()).toEqual([
    { id: 'a', perSec: 30 },
    { id: 'b', perSec: 4 },
  ])
  await frame('a', 1)
  expect([a.drawn.length, small.drawn.length, b.drawn.length]).toEqual([1, 1, 0])
  expect([a.width, a.height]).toEqual([640, 360])
  expect(FakeSocket.newest.said.at(-1)).toEqual({ t: 'shown', camera: 'a' })
  easels.unwatch(1)
  await settle()
  expect(wanted()).toEqual([
    { id: 'a', perSec: 4 },
    { id: 'b', perSec: 4 },
  ])
})

test('a frame that looks the same is seen, and not drawn again', async () => {
  const { easels, told, canvas, frame } = setUp()
  const a = canvas(1)
  easels.watch(1, 'a', 30)
  await frame('a', 1)
  // The page need not hear of every frame.
  await new Promise((resolve) => setTimeout(resolve, 220))
  await frame('a', null, { sameMs: 9000 })
  expect(a.drawn).toHaveLength(1)
  expect(told.seen.map((s) => s.sameMs)).toEqual([0, 9000])
})

test('the age of a picture counts its way, and by how much it was held up on it', async () => {
  const { easels, told, canvas, frame } = setUp()
  canvas(1)
  easels.watch(1, 'a', 30)
  const ageNow = () => performance.timeOrigin + performance.now() - told.seen.at(-1)!.atMs
  await frame('a', 1, { ageMs: 40, wayMs: 120 })
  expect(ageNow()).toBeGreaterThanOrEqual(160)
  expect(ageNow()).toBeLessThan(400)
  await new Promise((resolve) => setTimeout(resolve, 220))
  await frame('a', 2, { ageMs: 40, wayMs: 120, heldUpMs: 2000 })
  expect(ageNow()).toBeGreaterThanOrEqual(2155)
  expect(ageNow()).toBeLessThan(2600)
})

test('a damaged picture is confirmed, so that the next one comes, and claims nothing', async () => {
  const { easels, told, canvas } = setUp()
  canvas(1)
  easels.watch(1, 'a', 30)
  await settle()
  const bytes = encodePictureFrame({
    ...{ camera: 'a', number: 1, ageMs: 0, sameMs: 0, sentMs: 1, wayMs: 0 },
    jpeg: Uint8Array.of(1, 2),
  })
  FakeSocket.newest.onmessage({ data: Uint8Array.from(bytes).buffer })
  await settle()
  expect(told.seen).toEqual([])
  expect(FakeSocket.newest.said.at(-1)).toEqual({ t: 'shown', camera: 'a' })
})

test('a canvas that shows another camera now is blank until that one gives a picture', async () => {
  const { easels, canvas, frame } = setUp()
  const a = canvas(1)
  easels.watch(1, 'a', 30)
  await frame('a', 1)
  const before = a.cleared
  easels.watch(1, 'b', 30)
  expect(a.cleared).toBe(before + 1)
  await frame('a', 1)
  expect(a.drawn).toHaveLength(1)
})

test('a copy is of a frame that the camera gave after the moment, and comes once', async () => {
  const { easels, told, canvas, frame } = setUp()
  canvas(1)
  easels.watch(1, 'a', 30)
  const now = performance.timeOrigin + performance.now()
  easels.copy(7, 'a', now)
  await frame('a', 1, { ageMs: 5000 })
  expect(told.copies).toEqual([])
  await new Promise((resolve) => setTimeout(resolve, 20))
  await frame('a', 1, { ageMs: 0 })
  await frame('a', 1, { ageMs: 0 })
  expect(told.copies).toHaveLength(1)
  easels.copy(8, 'a', now)
  easels.forgetCopy(8)
  await frame('a', 1, { ageMs: 0 })
  expect(told.copies).toHaveLength(1)
})

test('why no picture comes is told to whoever looks, also to one that comes later; a hidden page wants none', async () => {
  const { easels, told, canvas, wanted } = setUp()
  canvas(1)
  canvas(2)
  easels.watch(1, 'a', 30)
  await settle()
  FakeSocket.newest.onmessage({ data: JSON.stringify({ t: 'trouble', camera: 'a', text: 'No login.' }) })
  easels.watch(2, 'a', 4)
  expect(told.troubles).toEqual([
    ['a', null],
    ['a', 'No login.'],
    ['a', 'No login.'],
  ])
  easels.setAway(true)
  expect(wanted()).toEqual([])
  easels.setAway(false)
  expect(wanted()).toEqual([{ id: 'a', perSec: 30 }])
})
