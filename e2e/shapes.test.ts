/**
 * Every main view in every shape of window that people use: nothing overlaps, nothing is cut off, and what is
 * to be touched is large enough. With HERON_SHOTS=folder the pictures are kept, to be looked at.
 */
import { join } from 'node:path'
import type { Browser, Page } from 'puppeteer-core'
import { by, type Running, sleep, startApplication, startBrowser } from './harness'

const SIZES = [
  [320, 640],
  [390, 844],
  [844, 390],
  [820, 1180],
  [1180, 820],
  [1280, 800],
  [1280, 320],
  // A strip below or beside another program.
  [1280, 280],
  [300, 640],
  [1920, 1080],
] as const

const VIEWS = [
  { path: '/', name: 'desk', ready: by('is-live'), needs: ['stage', 'pad', 'zoom-strip', 'store', 'more'] },
  { path: '/presets', name: 'presets', ready: by('tile-1'), needs: ['board-camera', 'tile-1'] },
  { path: '/sightlines', name: 'sightlines', ready: by('survey'), needs: ['survey'] },
  { path: '/setup', name: 'setup', ready: by('row-1'), needs: ['add-camera'] },
] as const

let running: Running
let browser: Browser
beforeAll(async () => {
  ;[running, browser] = await Promise.all([startApplication(), startBrowser()])
}, 120_000)
afterAll(async () => {
  await browser?.close()
  await running?.stop()
})

interface Box {
  name: string
  left: number
  top: number
  right: number
  bottom: number
}

/** As text: what compiles this file puts helpers into functions that a page does not have. */
const BOXES = `(() => {
  const controls = document.querySelectorAll('button, a, input, select, [role="button"], [role="slider"], [role="radio"], [role="checkbox"], [role="tab"], [data-testid="pad"], [data-testid="zoom-strip"], [data-testid="stage"]')
  const seen = []
  for (const element of controls) {
    const style = getComputedStyle(element)
    if (style.visibility === 'hidden' || style.display === 'none' || style.pointerEvents === 'none') continue
    let { left, top, right, bottom } = element.getBoundingClientRect()
    if (right - left < 1 || bottom - top < 1) continue
    const whole = (right - left) * (bottom - top)
    // What is scrolled away, or half scrolled away, is not cut off.
    let scrolled = false
    for (let up = element.parentElement; up; up = up.parentElement) {
      const s = getComputedStyle(up)
      if (!/auto|scroll|hidden/.test(s.overflowX + s.overflowY)) continue
      const r = up.getBoundingClientRect()
      if (/auto|scroll/.test(s.overflowX + s.overflowY)) scrolled = true
      left = Math.max(left, r.left); right = Math.min(right, r.right)
      top = Math.max(top, r.top); bottom = Math.min(bottom, r.bottom)
    }
    if (right - left < 1 || bottom - top < 1) {
      if (!scrolled) seen.push({ cut: true, scrolled, name: element.dataset.testid || element.textContent, left, top, right, bottom, inside: [] })
      continue
    }
    const inside = []
    for (let up = element.parentElement; up; up = up.parentElement) inside.push(up)
    const nested = [...controls].filter((other) => other !== element && (inside.includes(other) || element.contains(other)))
    seen.push({
      name: element.dataset.testid || element.getAttribute('aria-label') || element.textContent,
      left, top, right, bottom,
      cut: !scrolled && (right - left) * (bottom - top) < whole - 2,
      full: { width: element.getBoundingClientRect().width, height: element.getBoundingClientRect().height },
      nested: nested.map((other) => other.dataset.testid || other.getAttribute('aria-label') || other.textContent),
    })
  }
  return seen
})()`

type Seen = Box & { cut: boolean; full?: { width: number; height: number }; nested?: string[] }

const overlap = (a: Box, b: Box) => ({
  width: Math.min(a.right, b.right) - Math.max(a.left, b.left),
  height: Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top),
})

/** Text that does not fit in its key. */
const CUT_WORDS = `[...document.querySelectorAll('[role="button"] *, [role="radio"] *, button *')]
  .filter((e) => e.children.length === 0 && e.textContent && e.scrollWidth > e.clientWidth + 1 && e.clientWidth > 0)
  .filter((e) => !e.closest('[data-testid^="tile-"], [data-testid^="camera-"], [data-testid^="row-"], [data-testid="board-camera"]'))
  .map((e) => e.textContent)`

async function check(page: Page, width: number, height: number, needs: readonly string[]): Promise<string[]> {
  const problems: string[] = []
  const seen = (await page.evaluate(BOXES)) as Seen[]
  for (const name of needs) if (!seen.some((s) => s.name === name)) problems.push(`${name} is not there`)
  for (const a of seen) {
    if (a.cut) problems.push(`${a.name} is cut off`)
    if (a.left < -1 || a.top < -1 || a.right > width + 1 || a.bottom > height + 1)
      problems.push(`${a.name} reaches out of the window`)
  }
  for (const [i, a] of seen.entries())
    for (const b of seen.slice(i + 1)) {
      const { width: w, height: h } = overlap(a, b)
      if (w <= 2 || h <= 2 || a.nested?.includes(b.name) || b.nested?.includes(a.name)) continue
      problems.push(`${a.name} lies over ${b.name} by ${Math.round(w)} by ${Math.round(h)}`)
    }
  for (const words of (await page.evaluate(CUT_WORDS)) as string[]) problems.push(`"${words}" is cut`)
  if (((await page.evaluate('document.documentElement.scrollWidth')) as unknown as number) > width)
    problems.push('the page is wider than its window')
  return problems
}

test.each(SIZES)(
  '%i by %i',
  async (width, height) => {
    const page = await browser.newPage()
    await page.setViewport({ width, height, hasTouch: width < 1200, deviceScaleFactor: 1 })
    const found: string[] = []
    for (const { path, name, ready, needs } of VIEWS) {
      await page.goto(`${running.address}${path}`)
      await page.waitForSelector(ready, { timeout: 20_000 })
      await sleep(400)
      // A note lies over what is below it until it goes: it is not what is looked at here.
      await page.$$eval('[aria-label="Close this note"]', (all) => {
        for (const one of all) (one as HTMLElement).click()
      })
      await sleep(100)
      const folder = process.env.HERON_SHOTS
      if (folder)
        await page.screenshot({ path: join(folder, `${name}-${width}x${height}.png`) as `${string}.png` })
      const problems = await check(page, width, height, needs)
      found.push(...problems.map((problem) => `${name}: ${problem}`))
    }
    await page.close()
    expect(found).toEqual([])
  },
  60_000,
)
