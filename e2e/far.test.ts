/** A hand and its page far away: every byte takes 150 ms and up to 80 ms more, and now and then nothing comes for seconds. */

import type { AddressInfo } from 'node:net'
import { connect, createServer, type Server, type Socket } from 'node:net'
import type { Browser } from 'puppeteer-core'
import { withApplication } from './application'
import { by, centre, eventually, type Running, reads, sleep, textOf, WIDE } from './harness'

let running: Running
let browser: Browser

withApplication((r, b) => {
  ;[running, browser] = [r, b]
})

const BASE_MS = 150
const JITTER_MS = 80

/** A connection to the server that takes its time, in order, as a long way does. */
function farServer(port: number) {
  let heldUntilMs = 0
  const pipe = (from: Socket, to: Socket) => {
    // One queue, so that no two timers that end together change places.
    const queue: { bytes: Buffer; atMs: number }[] = []
    let waiting = false
    const wait = (ms: number) => {
      waiting = true
      setTimeout(next, Math.max(1, ms))
    }
    const next = () => {
      waiting = false
      while (queue[0] && queue[0].atMs <= performance.now()) {
        const { bytes } = queue.shift()!
        if (!to.destroyed) to.write(bytes)
      }
      if (queue[0]) wait(queue[0].atMs - performance.now())
    }
    from.on('data', (bytes: Buffer) => {
      const late = performance.now() + BASE_MS + Math.random() * JITTER_MS
      queue.push({ bytes, atMs: Math.max(late, queue.at(-1)?.atMs ?? 0, heldUntilMs) })
      if (!waiting) wait(1)
    })
    from.on('close', () => to.destroy())
    from.on('error', () => to.destroy())
  }
  const server: Server = createServer((near) => {
    const far = connect(port, '127.0.0.1')
    pipe(near, far)
    pipe(far, near)
  })
  return {
    server,
    stall: (ms: number) => {
      heldUntilMs = performance.now() + ms
    },
    listen: () =>
      new Promise<string>((resolve) =>
        server.listen(0, '127.0.0.1', () =>
          resolve(`http://127.0.0.1:${(server.address() as AddressInfo).port}`),
        ),
      ),
  }
}

test('the picture says how late it is, a stall stops the camera, and nothing claims to be live that is not', async () => {
  const far = farServer(Number(new URL(running.address).port))
  const page = await browser.newPage()
  try {
    await page.setViewport(WIDE)
    await page.goto(await far.listen())
    await page.waitForSelector(by('is-live'), { timeout: 60_000 })
    await reads(page, 'is-live', /0\.[2-9] s late/, 15_000)
    await reads(page, 'far', /0\.[3-6] s away/, 15_000)
    const moving = async () => (await running.truth('gallery')).moving
    const { x, y } = await centre(page, 'pad')
    await page.mouse.move(x, y)
    await page.mouse.down()
    await page.mouse.move(x + 50, y)
    await eventually('it is driven', moving)
    await sleep(1000)
    far.stall(4000)
    const from = performance.now()
    await eventually('it stands, though the hand still pushes', async () => !(await moving()), 1500)
    expect(performance.now() - from).toBeLessThan(1500)
    await page.waitForSelector(by('not-live'), { timeout: 4000 })
    expect(await page.$(by('is-live'))).toBeNull()
    // The hand still pushes when the way is free again.
    await eventually('it is driven again', moving, 6000)
    await page.mouse.up()
    await eventually('it stands', async () => !(await moving()), 3000)
    await page.waitForSelector(by('is-live'), { timeout: 10_000 })
    expect(await textOf(page, 'is-live')).toMatch(/late|unchanged/)
  } finally {
    await page.close()
    far.server.close()
  }
}, 120_000)
