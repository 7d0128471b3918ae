/**
 * Sightlines: how long a camera takes to survey all that it can reach, how well the pictures fit, what that costs
 * the server, and how smoothly the map is dragged with 300 frames on it, beside a page that drags one empty box.
 */
import { readFileSync } from 'node:fs'
import type { Page } from 'puppeteer-core'
import { type Running, sleep, startApplication, startBrowser, WIDE } from '../e2e/harness'
import { api } from './rig'
import { type Figure, row } from './stats'

const FRAMES = { rows: 15, perRow: 20 }
const DRAG_MS = 3000

/** As text: what compiles this file puts helpers into functions that a page does not have. */
const COUNT = `(() => {
  window.__frames = []
  const step = (at) => { window.__frames.push(at); requestAnimationFrame(step) }
  requestAnimationFrame(step)
})()`
const EMPTY = `<!doctype html><body style="margin:0"><div id="box" style="width:600px;height:400px;background:#345;will-change:transform"></div>
<script>let x=0,y=0,from=null;addEventListener('pointerdown',e=>{from=e});addEventListener('pointermove',e=>{if(!from)return;x+=e.clientX-from.clientX;y+=e.clientY-from.clientY;from=e;box.style.transform='translate('+x+'px,'+y+'px)'});addEventListener('pointerup',()=>{from=null})</script>`

/** Dragged to and fro. @returns pictures a second, and the longest gap between two, ms */
async function dragged(page: Page): Promise<{ perSec: number; longestMs: number }> {
  await page.evaluate(COUNT)
  await page.mouse.move(640, 400)
  await page.mouse.down()
  const from = performance.now()
  for (let i = 0; performance.now() - from < DRAG_MS; i++) {
    await page.mouse.move(640 + 250 * Math.sin(i / 20), 400 + 90 * Math.sin(i / 13))
    await sleep(4)
  }
  await page.mouse.up()
  const frames = (await page.evaluate('window.__frames')) as number[]
  const gaps = frames.slice(1).map((at, i) => at - frames[i]!)
  return { perSec: (1000 * gaps.length) / (frames.at(-1)! - frames[0]!), longestMs: Math.max(...gaps) }
}

/** The most memory that a process has had, MB. */
const mostMemory = (pid: number): number =>
  Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? Number.NaN) / 1024

interface Survey {
  cameraId: string
  pictures: number
  map: { width: number; height: number }
  seams: { medianPx: number; worstPx: number }
}

export async function benchSightlines(): Promise<Figure[]> {
  // One of its own: here the pictures must show what each camera sees.
  const stack = await startApplication()
  try {
    return await measured(stack)
  } finally {
    await stack.stop()
  }
}

async function measured(stack: Running): Promise<Figure[]> {
  const { cameras } = await api<{ cameras: { id: string; number: number }[] }>(stack, '/desk')
  const camera = cameras.find(({ number }) => number === 1)!.id
  const pid = (await stack.pids()).server!
  // Until it is known that the camera is off air.
  for (let known = false; !known; await sleep(200)) {
    const { cameras: tallies } = await api<{ cameras: { id: string; state: string }[] }>(stack, '/tally')
    known = tallies.find(({ id }) => id === camera)!.state !== 'unknown'
  }
  const before = mostMemory(pid)
  const from = performance.now()
  await api(stack, `/cameras/${camera}/round`, { kind: 'survey' })
  let survey: Survey | undefined
  while (!survey) {
    await sleep(250)
    survey = (await api<Survey[]>(stack, '/surveys')).find(({ cameraId }) => cameraId === camera)
    if (performance.now() - from > 240_000) throw new Error('no survey came')
  }
  const tookS = (performance.now() - from) / 1000
  const corner = (panDeg: number, tiltDeg: number) => ({ panDeg, tiltDeg })
  await api(stack, '/presets/grid', {
    cameraId: camera,
    section: 'Seats',
    grid: {
      corners: [corner(-60, -20), corner(60, -20), corner(50, 20), corner(-50, 20)],
      seats: Array.from({ length: FRAMES.rows }, () => FRAMES.perRow),
      ...{ aislesAfter: [], aisleSeats: 0, bow: 0, firstRow: 1, firstSeat: 1, backwards: false },
      ...{ numbering: '12.7', overlap: 0.5 },
    },
  })
  const browser = await startBrowser()
  const bare = await browser.newPage()
  await bare.setViewport(WIDE)
  await bare.setContent(EMPTY)
  const yardstick = await dragged(bare)
  await bare.close()
  const page = await browser.newPage()
  await page.setViewport(WIDE)
  await page.goto(`${stack.address}/sightlines`)
  await page.waitForSelector('[data-testid="preset-frames"]')
  await sleep(3000)
  const ours = await dragged(page)
  await browser.close()
  return [
    row(`survey: ${survey.pictures} pictures of one camera, until its map is there`, tookS, 's', 90),
    row('survey: seams, median', survey.seams.medianPx, 'px', 2),
    row('survey: seams, worst', survey.seams.worstPx, 'px', 6),
    row(
      `survey: memory of the server at its most, above before (map ${survey.map.width} x ${survey.map.height})`,
      Math.max(0, mostMemory(pid) - before),
      'MB',
    ),
    row('Sightlines dragged with over 300 frames on it: pictures a second', ours.perSec, '/s'),
    row('an empty box dragged: pictures a second', yardstick.perSec, '/s'),
    row('dragged: time for a picture, times that of the empty box', yardstick.perSec / ours.perSec, '', 1.1),
    row('dragged: the longest gap between two pictures', ours.longestMs, 'ms'),
  ]
}
