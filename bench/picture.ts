/**
 * Picture: from the turn of a knob to the packet, beside a relay that does nothing else; frames of a page on which two
 * scopes run, beside an empty page in the same browser, and how often the scopes are drawn.
 */
import { Hands } from '../e2e/hands'
import { by, type Running, sleep, startBrowser } from '../e2e/harness'
import { startBaseline } from './baseline'
import { addCamera, allReady, openVenue } from './rig'
import { type Figure, quantile, ratio, row } from './stats'
import { WireCamera } from './wireCamera'

const TURNS = Number(process.env.BENCH_TURNS ?? 250)
const WATCH_MS = 6000

async function knob(stack: Running): Promise<Figure[]> {
  await openVenue(stack, 'Bench of a knob')
  const wire = new WireCamera()
  const camera = await addCamera(stack, 1, {
    kind: 'visca-udp',
    host: '127.0.0.1',
    port: await wire.listen(),
  })
  await allReady(stack, 1)
  const hands = await Hands.open(stack.address)
  const turn = (request: number, key: string, value: string | number) =>
    hands.send({ t: 'setting', camera, key, value, request } as never)
  turn(1, 'exposureMode', '3')
  await sleep(1500)
  const baseline = await startBaseline()
  const [ours, bare]: number[][] = [[], []]
  for (let i = 0; i < TURNS; i++) {
    const arrived = new Promise<number>((resolve) => {
      wire.onCommand = (command, atMs) => {
        if (command.kind === 'set' && command.setting === 'iris') resolve(atMs)
      }
    })
    const from = performance.now()
    turn(i + 2, 'iris', 6 + (i % 8))
    const atMs = await Promise.race([arrived, sleep(2000).then(() => Number.NaN)])
    if (Number.isNaN(atMs)) throw new Error('a turn of the knob was lost')
    ours!.push(atMs - from)
    bare!.push(...(await baseline.burst(1)))
    await sleep(25)
  }
  baseline.close()
  wire.close()
  return [
    row('a turn of a knob to its packet, p99', quantile(ours!, 0.99), 'ms', 20),
    row('the same, median', quantile(ours!, 0.5), 'ms'),
    row('the same to a bare relay, median', ratio(ours!, bare!, 0.5), 'x'),
    row('the same to a bare relay, p99', ratio(ours!, bare!, 0.99), 'x'),
  ]
}

/** As text: what compiles this file puts helpers into functions that a page does not have. */
const FRAMES = `window.__frames = []; (function next(before) {
  requestAnimationFrame((now) => { window.__frames.push(now - before); next(now) })
})(performance.now())`
const COUNT = `window.__drawn = 0; const put = CanvasRenderingContext2D.prototype.putImageData
CanvasRenderingContext2D.prototype.putImageData = function (...all) { window.__drawn++; return put.apply(this, all) }`

async function scopes(stack: Running): Promise<Figure[]> {
  const browser = await startBrowser()
  const page = await browser.newPage()
  await page.setViewport({ width: 1280, height: 800 })
  const frames = async () => {
    await page.evaluate(FRAMES)
    await sleep(300)
    await page.evaluate('window.__frames.length = 0; window.__drawn = 0')
    const from = performance.now()
    await sleep(WATCH_MS)
    const all = (await page.evaluate('window.__frames')) as number[]
    const drawn = ((await page.evaluate('window.__drawn')) as number) ?? 0
    return { all, perSec: (drawn / (performance.now() - from)) * 1000 }
  }
  await page.goto('about:blank')
  const idle = await frames()
  await page.evaluateOnNewDocument(COUNT)
  await page.goto(`${stack.address}/picture`)
  await page.waitForSelector(by('scope-1'), { timeout: 20_000 })
  await page.waitForSelector(by('is-live'), { timeout: 20_000 })
  await sleep(2000)
  const scoped = await frames()
  await browser.close()
  return [
    row('two scopes: drawn a second, each', scoped.perSec / 2, '/s'),
    row('frames of the page with two scopes, p99', quantile(scoped.all, 0.99), 'ms', 34),
    row('the same of an empty page, p99', quantile(idle.all, 0.99), 'ms'),
  ]
}

export async function benchPicture(stack: Running): Promise<Figure[]> {
  // The demo has live pictures.
  const drawn = await scopes(stack)
  return [...(await knob(stack)), ...drawn]
}
