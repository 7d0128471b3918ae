/** Times of a page by our own clock. */
import type { Page } from 'puppeteer-core'

/** The page's clock minus ours, ms: the least of many tries is the truest. */
export async function clockOffset(page: Page): Promise<number> {
  let best = { round: Number.POSITIVE_INFINITY, offset: 0 }
  for (let i = 0; i < 60; i++) {
    const from = performance.now()
    const there = await page.evaluate(() => performance.now())
    const round = performance.now() - from
    if (round < best.round) best = { round, offset: there - (from + round / 2) }
  }
  return best.offset
}

/** When the page's last input event came into being, by its own clock. */
export const lastEvent = (page: Page) => page.evaluate(() => (window as unknown as { __last: number }).__last)

/** From now on the page keeps when its last input event came into being. */
export const watchEvents = (page: Page) =>
  page.evaluate(() => {
    for (const type of ['pointerdown', 'pointermove', 'pointerrawupdate', 'pointerup'])
      window.addEventListener(type, (e) => Object.assign(window, { __last: e.timeStamp }), true)
  })
