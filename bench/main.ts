/**
 * `npm run bench`: the whole application measured in one run, part by part. Settings: BENCH_PARTS (names
 * with commas, default all), BENCH_MESSAGES, BENCH_FLEET_SECONDS, BENCH_FUZZ, BENCH_JSON (where the
 * figures go, default bench-results.json).
 */
import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import { by, PHONE, type Running, sleep, startApplication, startBrowser } from '../e2e/harness'
import { benchBlocks } from './blocks'
import { benchChain } from './chain'
import { benchDesk } from './desk'
import { benchDrive } from './drive'
import { benchFinding, benchPictures } from './finding'
import { benchFleet } from './fleet'
import { benchFuzz } from './fuzz'
import { benchGuarded } from './guarded'
import { benchLeash } from './leash'
import { benchPresets } from './presets'
import { type Figure, quantile, table } from './stats'

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

/** Opening the page to the first live picture, in a browser that has never seen it. */
async function openings(stack: Running): Promise<Figure[]> {
  const browser = await startBrowser()
  const times: number[] = []
  for (let i = 0; i <= OPENINGS; i++) {
    const context = await browser.createBrowserContext()
    const page = await context.newPage()
    await page.setViewport(PHONE)
    const from = performance.now()
    await page.goto(stack.address, { waitUntil: 'domcontentloaded' })
    await page.waitForSelector(by('is-live'))
    // The first opening warms up the browser itself.
    if (i > 0) times.push(performance.now() - from)
    await context.close()
  }
  await browser.close()
  return [
    { name: 'web bundle, gzipped', value: bundleKB(), unit: 'kB', aim: 650 },
    { name: 'page opened to live picture, median', value: quantile(times, 0.5), unit: 'ms', aim: 2000 },
  ]
}

function bundleKB(): number {
  const folder = join(root, 'dist/_expo/static/js/web')
  const scripts = readdirSync(folder).filter((name) => name.endsWith('.js'))
  return (
    scripts.reduce((sum, name) => sum + gzipSync(readFileSync(join(folder, name)), { level: 9 }).length, 0) /
    1000
  )
}

/** In this order: the later ones open venues of their own. */
const PARTS: readonly [name: string, run: (stack: Running) => Promise<Figure[]>][] = [
  ['machine', machine],
  ['openings', openings],
  ['pictures', benchPictures],
  ['finding', benchFinding],
  ['leash', benchLeash],
  ['blocks', benchBlocks],
  ['desk', benchDesk],
  ['drive', benchDrive],
  ['guarded', benchGuarded],
  ['presets', benchPresets],
  ['fleet', benchFleet],
  ['chain', benchChain],
  ['fuzz', benchFuzz],
]

async function main() {
  console.log('- Starting the application')
  const stack = await startApplication()
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
