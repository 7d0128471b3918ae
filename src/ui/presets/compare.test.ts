/** The one worker of the page, with comparisons that overtake each other. */
import type { Finding } from '../../core/image/register'
import { compare } from './compare'

interface Order {
  id: number
  before: ImageBitmap
}

class FakeWorker {
  static made: FakeWorker[] = []
  orders: Order[] = []
  onmessage: (event: { data: object }) => void = () => {}

  constructor() {
    FakeWorker.made.push(this)
  }

  postMessage(order: Order): void {
    this.orders.push(order)
  }

  answer(index: number, finding: Finding): void {
    this.onmessage({ data: { id: this.orders[index]!.id, finding, ms: 1 } })
  }
}

test('each comparison gets its own finding, whichever is ready first', async () => {
  Object.assign(globalThis, { Worker: FakeWorker })
  performance.measure ??= (() => {}) as unknown as typeof performance.measure
  const bitmap = {} as ImageBitmap
  const [first, second] = [compare(bitmap, bitmap), compare(bitmap, bitmap)]
  const [worker] = FakeWorker.made
  worker!.answer(1, { kind: 'matches' })
  worker!.answer(0, { kind: 'shifted', u: 0.2, v: 0 } as Finding)
  expect(await first).toMatchObject({ kind: 'shifted' })
  expect(await second).toEqual({ kind: 'matches' })
  expect(FakeWorker.made).toHaveLength(1)
})
