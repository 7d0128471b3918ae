/**
 * Cues: from Go to the packets of twenty cameras, beside a relay that does nothing else; six heads that are to arrive
 * together and a recorded move played again, by the page of truth; the check of a long evening; a timeline that is dragged.
 */
import { randomUUID } from 'node:crypto'
import { Hands } from '../e2e/hands'
import { by, type Running, type StandInId, sleep, startBrowser } from '../e2e/harness'
import type { ShowNow } from '../src/core/cues/now'
import type { Cue, Step, StepDoes } from '../src/core/cues/show'
import type { DeskView } from '../src/server/api'
import type { Truth } from '../src/simulator/standIn'
import { startBaseline } from './baseline'
import { addCamera, allReady, api, givePresets, openVenue } from './rig'
import { type Figure, quantile, ratio, row } from './stats'
import { WireCamera } from './wireCamera'

const CAMERAS = 20
const GOES = Number(process.env.BENCH_GOES ?? 150)
const HEADS: readonly StandInId[] = ['gallery', 'stage-left', 'lectern', 'trio', 'benches', 'scoreboard']
const TOGETHER = 6
const LONG_CUES = 200
const LONG_STEPS = 200
const WAIT_MS = 1200

const at = (id: string, seconds: number, does: StepDoes): Step => ({
  id,
  start: { kind: 'at', seconds },
  does,
})
const recall = (preset: string, seconds: number | null, together: boolean): StepDoes => ({
  ...{ t: 'recall', preset, together },
  pace: seconds === null ? null : { kind: 'timed', seconds },
})

async function keep(stack: Running, name: string, steps: Step[], change: Partial<Cue> = {}): Promise<string> {
  const id = randomUUID()
  await api(stack, `/cues/${id}`, { data: { name, steps, ...change } }, 'PUT')
  return id
}
const go = (stack: Running, id: string) => api(stack, `/cues/${id}/go`, {})
const truths = async (stack: Running) => (await (await fetch(`${stack.sim}/truth`)).json()) as Truth[]

async function ended(stack: Running): Promise<void> {
  for (let i = 0; i < 600; i++) {
    const { runs, replays } = await api<ShowNow>(stack, '/show')
    if (runs.every(({ state }) => state !== 'running') && replays.length === 0) return
    await sleep(100)
  }
  throw new Error('the cue does not end')
}

/** When each head of the demo came to rest after a cue that is to bring all of them there together. */
async function together(stack: Running): Promise<number[]> {
  const desk = await api<DeskView>(stack, '/desk')
  const presets = desk.cameras.map(({ id }) => desk.presets.filter((p) => p.cameraId === id).map((p) => p.id))
  const cues = await Promise.all(
    [0, 1].map((n) =>
      keep(
        stack,
        `Together ${n}`,
        presets.map((own, i) => at(`s${i}`, 0, recall(own[n]!, null, true))),
      ),
    ),
  )
  const spreads: number[] = []
  for (let i = 0; i <= TOGETHER; i++) {
    await go(stack, cues[i % 2]!)
    const rested = new Map<string, number>()
    const set = new Set<string>()
    const end = performance.now() + 20_000
    while (rested.size < HEADS.length && performance.now() < end) {
      const atMs = performance.now()
      for (const { id, moving } of await truths(stack)) {
        if (moving) {
          set.add(id)
          rested.delete(id)
        } else if (set.has(id) && !rested.has(id)) rested.set(id, atMs)
      }
      await sleep(4)
    }
    await ended(stack)
    const times = [...rested.values()]
    // The first brings them from wherever they were.
    if (i > 0) spreads.push(Math.max(...times) - Math.min(...times))
    await sleep(600)
  }
  return spreads
}

interface Sample {
  s: number
  pan: number
  tilt: number
}

async function watch(stack: Running, forMs: number): Promise<Sample[]> {
  const from = performance.now()
  const seen: Sample[] = []
  while (performance.now() - from < forMs) {
    const s = (performance.now() - from) / 1000
    const one = (await truths(stack)).find(({ id }) => id === 'gallery')!
    seen.push({ s, pan: one.panDeg, tilt: one.tiltDeg })
    await sleep(8)
  }
  return seen
}

function placeAt(samples: readonly Sample[], s: number): Sample {
  const next = samples.findIndex((one) => one.s >= s)
  if (next <= 0) return samples[next === 0 ? 0 : samples.length - 1]!
  const [a, b] = [samples[next - 1]!, samples[next]!]
  const share = (s - a.s) / Math.max(1e-6, b.s - a.s)
  return { s, pan: a.pan + (b.pan - a.pan) * share, tilt: a.tilt + (b.tilt - a.tilt) * share }
}

const begins = (samples: readonly Sample[]) =>
  samples.find(({ pan, tilt }) => Math.hypot(pan - samples[0]!.pan, tilt - samples[0]!.tilt) > 0.15)?.s ?? 0

/** @returns the root mean square of what is missing, degrees, and how late the second is at its best fit, s */
function compare(driven: readonly Sample[], played: readonly Sample[]): { rms: number; lateS: number } {
  const first = begins(played) - begins(driven)
  const rmsAt = (lateS: number) => {
    const off = driven.map((one) => {
      const there = placeAt(played, one.s + lateS)
      return (there.pan - one.pan) ** 2 + (there.tilt - one.tilt) ** 2
    })
    return Math.sqrt(off.reduce((sum, x) => sum + x, 0) / off.length)
  }
  let best = { rms: Number.POSITIVE_INFINITY, lateS: 0 }
  for (let by_ = -0.4; by_ <= 0.4; by_ += 0.005) {
    const rms = rmsAt(first + by_)
    if (rms < best.rms) best = { rms, lateS: by_ }
  }
  return best
}

/** A hand's drive, recorded, and played again at the same pace. */
async function replay(stack: Running): Promise<{ rms: number; lateS: number }> {
  const desk = await api<DeskView>(stack, '/desk')
  const camera = desk.cameras.find(({ name }) => name === 'Gallery')!.id
  const from = desk.presets.find(({ name, cameraId }) => name === 'Whole barn' && cameraId === camera)!.id
  await api(stack, `/presets/${from}/recall`, {})
  await sleep(4000)
  const hands = await Hands.open(stack.address)
  await api(stack, `/cameras/${camera}/recording`, {})
  const watching = watch(stack, 6500)
  for (const [pan, tilt, ms] of [
    [0.4, 0.1, 1500],
    [0.6, -0.1, 1200],
    [-0.3, 0.2, 1500],
    [-0.5, 0, 800],
  ] as const) {
    hands.hold(new Map([[camera, { pan, tilt, zoom: 0.1 }]]))
    await sleep(ms)
  }
  hands.release([camera])
  const driven = await watching
  hands.close()
  const { id } = await api<{ id: string }>(stack, `/cameras/${camera}/recording`, { name: 'Bench' }, 'PUT')
  await sleep(2500)
  await api(stack, `/moves/${id}/play`, {})
  // It goes to its first pose before it is played.
  for (let i = 0; i < 200; i++) {
    const { replays } = await api<ShowNow>(stack, '/show')
    if (replays[0]?.state === 'playing') break
    await sleep(15)
  }
  const played = await watch(stack, 7500)
  await ended(stack)
  return compare(driven, played)
}

async function starts(stack: Running): Promise<Figure[]> {
  await openVenue(stack, 'Bench of cues')
  const wires = Array.from({ length: CAMERAS }, () => new WireCamera())
  const cameras: string[] = []
  for (const [i, wire] of wires.entries()) {
    const port = await wire.listen()
    cameras.push(await addCamera(stack, i + 1, { kind: 'visca-udp', host: '127.0.0.1', port }))
  }
  const presets = await givePresets(stack, cameras)
  await allReady(stack, CAMERAS)
  const cues = await Promise.all(
    [0, 1].map((n) =>
      keep(
        stack,
        `All ${n}`,
        presets.map((own, i) => at(`s${i}`, 0, recall(own[n]!, null, false))),
      ),
    ),
  )
  const baseline = await startBaseline()
  const [first, spread, six, bare, http]: number[][] = [[], [], [], [], []]
  for (let i = 0; i < GOES; i++) {
    const arrived = new Map<number, number>()
    const all = new Promise<void>((resolve) => {
      for (const [n, wire] of wires.entries())
        wire.onCommand = (command, atMs) => {
          if (command.kind !== 'ptAbsolute' || arrived.has(n)) return
          arrived.set(n, atMs)
          if (arrived.size === CAMERAS) resolve()
        }
    })
    const from = performance.now()
    const answered = go(stack, cues[i % 2]!)
    await Promise.race([all, sleep(2000)])
    if (arrived.size < CAMERAS) throw new Error(`${CAMERAS - arrived.size} cameras were not told`)
    await answered
    const times = [...arrived.values()].sort((a, b) => a - b)
    first!.push(times[0]! - from)
    spread!.push(times.at(-1)! - times[0]!)
    six!.push(times[5]! - times[0]!)
    bare!.push(...(await baseline.burst(1)))
    const asked = performance.now()
    await api(stack, '/show')
    http!.push(performance.now() - asked)
    await sleep(WAIT_MS / 8)
  }
  baseline.close()
  for (const wire of wires) wire.close()
  return [
    row('Go to the first packet, 20 cameras, p99', quantile(first!, 0.99), 'ms', 20),
    row('the same to a question of the same API, p99', ratio(first!, http!, 0.99), 'x'),
    row('the same to a bare relay, p99', ratio(first!, bare!, 0.99), 'x'),
    row('spread of six of the packets, p99', quantile(six!, 0.99), 'ms', 10),
    row('spread of all twenty, p99', quantile(spread!, 0.99), 'ms'),
  ]
}

async function longEvening(stack: Running): Promise<Figure> {
  const { presets } = await api<DeskView>(stack, '/desk')
  for (let n = 0; n < LONG_CUES; n++)
    await keep(
      stack,
      `Long ${n}`,
      Array.from({ length: 6 }, (_, i) =>
        at(`s${i}`, i * 2, recall(presets[(n * 7 + i * 3) % presets.length]!.id, 1 + (i % 4), false)),
      ),
    )
  const took: number[] = []
  for (let i = 0; i < 7; i++) {
    const from = performance.now()
    await api(stack, '/check')
    took.push(performance.now() - from)
  }
  return row(`check of ${LONG_CUES} cues with ${LONG_CUES * 6} moves`, quantile(took, 0.5), 'ms', 300)
}

/** As text: what compiles this file puts helpers into functions that a page does not have. */
const FRAMES = `window.__frames = []; (function next(before) {
  requestAnimationFrame((now) => { window.__frames.push(now - before); next(now) })
})(performance.now())`

async function drag(stack: Running): Promise<Figure[]> {
  const { presets } = await api<DeskView>(stack, '/desk')
  const steps = Array.from({ length: LONG_STEPS }, (_, i) =>
    at(`s${i}`, (i % 40) * 1.5, recall(presets[i % presets.length]!.id, 2, false)),
  )
  const id = await keep(stack, 'Many steps', steps)
  await api(stack, '/show/next', { cue: id })
  const browser = await startBrowser()
  const page = await browser.newPage()
  await page.setViewport({ width: 1280, height: 800 })
  const frames = async (during: () => Promise<void>) => {
    await page.evaluate(FRAMES)
    await sleep(100)
    await page.evaluate('window.__frames.length = 0')
    await during()
    return (await page.evaluate('window.__frames')) as number[]
  }
  await page.goto('about:blank')
  const idle = await frames(async () => void (await sleep(2000)))
  await page.goto(`${stack.address}/cues`)
  await page.waitForSelector(by('step-s1'), { timeout: 20_000 })
  await sleep(1500)
  const step = (await page.$(by('step-s1')))!
  const box = (await step.boundingBox())!
  const dragged = await frames(async () => {
    await page.mouse.move(box.x + 6, box.y + 10)
    await page.mouse.down()
    for (let i = 0; i < 150; i++) {
      await page.mouse.move(box.x + 6 + 120 * Math.sin(i / 12), box.y + 10)
      await sleep(12)
    }
    await page.keyboard.press('Escape')
  })
  await page.mouse.up()
  await browser.close()
  return [
    row(`a timeline of ${LONG_STEPS} steps dragged, longest frame`, Math.max(...dragged), 'ms', 33),
    row('the same, p99', quantile(dragged, 0.99), 'ms'),
    row('an empty page at rest, longest frame', Math.max(...idle), 'ms'),
  ]
}

export async function benchCues(stack: Running): Promise<Figure[]> {
  const spreads = await together(stack)
  const { rms, lateS } = await replay(stack)
  const figures = await starts(stack)
  const check = await longEvening(stack)
  return [
    ...figures,
    row('six heads that are to arrive together, median spread by truth', quantile(spreads, 0.5), 'ms', 100),
    row('the same, longest', Math.max(...spreads), 'ms'),
    row('a recorded move played again, RMS by truth', rms, '°', 0.2),
    row('the same, late against where it set off', Math.abs(lateS) * 1000, 'ms', 50),
    check,
    ...(await drag(stack)),
  ]
}
