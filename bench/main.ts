/**
 * `npm run bench`: the whole application measured in one run, part by part. Settings: BENCH_PARTS (names
 * with commas, default all), BENCH_MESSAGES, BENCH_FLEET_SECONDS, BENCH_FUZZ, BENCH_JSON (where the
 * figures go, default bench-results.json).
 */
import { readFileSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { by, PHONE, type Running, sleep, startApplication, startBrowser } from '../e2e/harness'
import { benchBlocks } from './blocks'
import { benchChain } from './chain'
import { benchCues } from './cues'
import { benchDesk } from './desk'
import { benchDrive } from './drive'
import { benchFinding, benchPictures } from './finding'
import { benchFleet } from './fleet'
import { benchFresh } from './fresh'
import { benchFuzz } from './fuzz'
import { benchGuarded } from './guarded'
import { benchHeads } from './heads'
import { benchLearning } from './learning'
import { benchLeash } from './leash'
import { benchMoves } from './moves'
import { benchPicture } from './picture'
import { benchPresets } from './presets'
import { benchSightlines } from './sightlines'
import { type Figure, quantile, table } from './stats'
import { benchTally } from './tally'
import { benchViewers } from './viewers'

const OPENINGS = 5
const root = join(__dirname, '..')
const wanted = (process.env.BENCH_PARTS ?? '').split(',').filter(Boolean)

/** How late a timer of an otherwise idle process is, ms: what the machine itself adds to all figures. */
async function machine(): Promise<Figure[]> {
  const late: number[] = []
  for (let i = 0; i < 400; i++) {
    const from = performance.now()
    await sleep(5)
    late.push(performance.now() - from - 5)
  }
  return [
    {
      name: 'the machine: lateness of an idle timer, p99',
      value: quantile(late, 0.99),
      unit: 'ms',
      aim: null,
    },
  ]
}

interface Opening {
  /** Until the first live picture is seen, the page's own code has run, the Desk is there, its picture is live, ms. */
  first: number
  code: number
  desk: number
  picture: number
}

/** As text: what compiles this file puts helpers into functions that a page does not have. */
const WATCH_FIRST = `new MutationObserver(() => {
  const canvas = document.getElementById('first-picture')
  if (canvas && !canvas.hidden) window.__first ??= performance.now()
}).observe(document, { subtree: true, childList: true, attributes: true })`

/** Opening the page, in a browser that has never seen it. */
async function openings(stack: Running): Promise<Figure[]> {
  const browser = await startBrowser()
  const times: Opening[] = []
  for (let i = 0; i <= OPENINGS; i++) {
    const context = await browser.createBrowserContext()
    const page = await context.newPage()
    await page.setViewport(PHONE)
    await page.evaluateOnNewDocument(WATCH_FIRST)
    const from = performance.now()
    await page.goto(stack.address, { waitUntil: 'domcontentloaded' })
    await page.waitForFunction("document.getElementById('root').childElementCount > 0")
    const code = performance.now() - from
    await page.waitForSelector(by('stage'))
    const desk = performance.now() - from
    await page.waitForSelector(by('is-live'))
    const picture = performance.now() - from
    const first = await page.evaluate(() => (window as unknown as { __first?: number }).__first ?? Infinity)
    // The first opening warms up the browser itself.
    if (i > 0) times.push({ first: Math.min(first, picture), code, desk, picture })
    await context.close()
  }
  await browser.close()
  const median = (part: keyof Opening) =>
    quantile(
      times.map((t) => t[part]),
      0.5,
    )
  return [
    { name: 'code of the Desk as it is sent, brotli', value: deskKB('.br'), unit: 'kB', aim: 400 },
    { name: 'code of the Desk as it is sent, gzip', value: deskKB('.gz'), unit: 'kB', aim: null },
    { name: 'page opened to the first live picture, median', value: median('first'), unit: 'ms', aim: 2000 },
    { name: 'page opened to its code running, median', value: median('code'), unit: 'ms', aim: null },
    { name: 'page opened to the Desk on the screen, median', value: median('desk'), unit: 'ms', aim: null },
    {
      name: 'page opened to the live picture of the Desk, median',
      value: median('picture'),
      unit: 'ms',
      aim: 2000,
    },
  ]
}

/** What index.html loads, compressed as the server sends it. */
function deskKB(ending: string): number {
  const html = readFileSync(join(root, 'dist/index.html'), 'utf8')
  const scripts = [...html.matchAll(/src="([^"]+\.js)"/g)].map(([, path]) => path!)
  return scripts.reduce((sum, path) => sum + statSync(join(root, `dist${path}${ending}`)).size, 0) / 1000
}

/** In this order: the later ones open venues of their own. */
const PARTS: readonly [name: string, run: (stack: Running) => Promise<Figure[]>][] = [
  ['machine', machine],
  ['openings', openings],
  ['heads', benchHeads],
  ['cues', benchCues],
  ['viewers', benchViewers],
  ['picture', benchPicture],
  ['sightlines', benchSightlines],
  ['learning', benchLearning],
  ['pictures', benchPictures],
  ['finding', benchFinding],
  ['fresh', benchFresh],
  ['leash', benchLeash],
  ['blocks', benchBlocks],
  ['desk', benchDesk],
  ['drive', benchDrive],
  ['guarded', benchGuarded],
  ['moves', benchMoves],
  ['tally', benchTally],
  ['presets', benchPresets],
  ['fleet', benchFleet],
  ['chain', benchChain],
  ['fuzz', benchFuzz],
]

async function main() {
  console.log('- Starting the application')
  // Pictures that were drawn beforehand: the desk is measured, and not the drawing of the barn.
  const stack = await startApplication({ HERON_SIM_PICTURES: 'before' })
  const figures: Figure[] = []
  for (const [name, run] of PARTS) {
    if (wanted.length > 0 && !wanted.includes(name)) continue
    console.log(`- ${name}`)
    figures.push(...(await run(stack)))
  }
  await stack.stop()
  const file = process.env.BENCH_JSON ?? join(root, 'bench-results.json')
  writeFileSync(file, `${JSON.stringify(figures, null, 2)}\n`)
  console.log(`\n${table(figures)}\n\nAs JSON: ${file}`)
  process.exit(0)
}

main().catch((error) => {
  console.error(error)
  process.exit(1)
})
