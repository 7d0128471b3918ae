/**
 * Timed moves of every camera of the demo at once, over its own link and protocol, judged by what the stand-ins say of
 * themselves; without loss and with 5 and 20 % of the packets lost. BENCH_HEAD_MOVES sets how many each makes,
 * BENCH_HEAD_SECONDS how long they are at most, BENCH_HEAD_LOSSES the shares that are lost.
 */
import { Hands } from '../e2e/hands'
import { type Running, type StandInId, sleep } from '../e2e/harness'
import { judged, type Measured, type PathPoint, poseOf, SAMPLE_MS } from '../src/conformance/follow'
import { type Summary, summed } from '../src/conformance/followMoves'
import { headProfile } from '../src/core/heads/registry'
import { zoomOf } from '../src/core/motion/follow/followMove'
import type { MoveRecord } from '../src/core/motion/follow/record'
import { createLens, type Lens } from '../src/core/optics/lens'
import { seeded } from '../src/core/seeded'
import type { Truth } from '../src/simulator/standIn'
import { api } from './rig'
import { type Figure, row } from './stats'

const COUNT = Number(process.env.BENCH_HEAD_MOVES ?? 12)
const [SHORTEST_S, LONGEST_S] = [2, Number(process.env.BENCH_HEAD_SECONDS ?? 20)]
const LOSSES = (process.env.BENCH_HEAD_LOSSES ?? '0,0.05,0.2').split(',').map(Number)
const HEADS: readonly [StandInId, string, string][] = [
  ['gallery', 'Gallery', 'marsh-20x'],
  ['stage-left', 'Stage left', 'marsh-12x'],
  ['lectern', 'Lectern', 'sedge-10x'],
  ['trio', 'Interval trio', 'sedge-10x'],
  ['benches', 'Benches', 'mere-18x'],
  ['scoreboard', 'Scoreboard', 'staithe-30x'],
]

/** All truths, every 20 ms. */
class Watch {
  private readonly seen: { ms: number; all: Map<string, Truth> }[] = []
  private readonly timer: ReturnType<typeof setInterval>

  constructor(sim: string) {
    this.timer = setInterval(async () => {
      const from = performance.now()
      const all = (await (await fetch(`${sim}/truth`)).json().catch(() => null)) as Truth[] | null
      if (all) this.seen.push({ ms: (from + performance.now()) / 2, all: new Map(all.map((t) => [t.id, t])) })
      while (this.seen.length > 6000) this.seen.shift()
    }, SAMPLE_MS)
  }

  /** One camera's path on even steps of time. */
  path(id: string, fromMs: number, toMs: number, zoomShare: (zoom: number) => number): PathPoint[] {
    const points = this.seen
      .filter(({ ms }) => ms > fromMs - 200 && ms < toMs + 200)
      .sort((a, b) => a.ms - b.ms)
    const path: PathPoint[] = []
    let i = 0
    for (let ms = fromMs; ms < toMs; ms += SAMPLE_MS) {
      while (i + 2 < points.length && points[i + 1]!.ms < ms) i += 1
      const [a, b] = [points[i]!, points[i + 1]!]
      const share = Math.min(1, Math.max(0, (ms - a.ms) / (b.ms - a.ms)))
      const [p, q] = [a.all.get(id)!, b.all.get(id)!]
      const mid = (x: number, y: number) => x + (y - x) * share
      path.push({
        ms: ms - fromMs,
        pan: mid(p.panDeg, q.panDeg),
        tilt: mid(p.tiltDeg, q.tiltDeg),
        zoom: zoomShare(mid(p.zoomPos, q.zoomPos)),
      })
    }
    return path
  }

  close(): void {
    clearInterval(this.timer)
  }
}

/** What was planned, between its samples. */
function plannedBy(record: MoveRecord, lens: Lens, zoomShare: (log: number) => number) {
  const { planned, seconds } = record
  return (s: number) => {
    const at = (Math.min(1, Math.max(0, s / seconds)) * (planned.length - 1)) | 0
    const [a, b] = [planned[at]!, planned[Math.min(planned.length - 1, at + 1)]!]
    const share = b.s > a.s ? Math.min(1, (s - a.s) / (b.s - a.s)) : 0
    const zoom = a.zoom + (b.zoom - a.zoom) * share
    return {
      pan: a.panDeg + (b.panDeg - a.panDeg) * share,
      tilt: a.tiltDeg + (b.tiltDeg - a.tiltDeg) * share,
      zoom: zoomShare(zoom),
      // The picture's width as it is just then.
      hfovDeg: lens.hfovDeg(zoomOf(lens, zoom)),
    }
  }
}

type Move = Measured & { seconds: number }

async function movesOf(
  stack: Running,
  hands: Hands,
  watch: Watch,
  [standIn, name, profileId]: (typeof HEADS)[number],
  seed: number,
): Promise<Move[]> {
  const random = seeded(seed)
  const profile = headProfile(profileId)
  const lens = createLens(profile.lens)
  const [wide, tele] = [Math.log(lens.focalMm(lens.wide)), Math.log(lens.focalMm(lens.tele))]
  const shareOf = (log: number) => (log - wide) / (tele - wide)
  const zoomShare = (zoom: number) => shareOf(Math.log(lens.focalMm(zoom)))
  const { cameras } = await api<{ cameras: { id: string; name: string }[] }>(stack, '/desk')
  const camera = cameras.find((one) => one.name === name)!.id
  const within = (x: number, min: number, max: number) => Math.min(max, Math.max(min, x))
  const found: Move[] = []
  for (let tries = 0; found.length < COUNT && tries < 4 * COUNT; tries++) {
    const now = await stack.truth(standIn)
    const asked = SHORTEST_S * (LONGEST_S / SHORTEST_S) ** random()
    const reach = Math.min(60, 6 * asked)
    const goal = poseOf(
      { profile },
      {
        pan: within(
          now.panDeg + (random() - 0.5) * 2 * reach,
          Math.max(-60, profile.pan.minDeg),
          Math.min(60, profile.pan.maxDeg),
        ),
        tilt: within(now.tiltDeg + (random() - 0.5) * reach, -15, 15),
        zoom: random() * 0.7,
      },
    )
    const from = performance.now()
    const heard = hands.heard.length
    hands.send({
      t: 'goToPose',
      request: 1 + Math.floor(random() * 1e6),
      camera,
      pose: goal,
      pace: { kind: 'timed', seconds: asked },
    })
    await sleep(asked * 1000 + 2500)
    // What cannot be smooth, or takes longer, is told before, and does not count.
    const told = hands.heard
      .slice(heard)
      .flatMap((m) => (m.t === 'notice' && m.camera === camera ? [m.text] : []))
    if (told.some((text) => /cannot move smoothly|needs/.test(text))) continue
    const record = await api<MoveRecord | null>(stack, `/cameras/${camera}/move`).catch(() => null)
    if (!record || Math.abs(record.seconds - asked) > 0.05) continue
    const path = watch.path(standIn, from, from + asked * 1000 + 2400, zoomShare)
    const { panDeg, tiltDeg } = goal
    found.push({
      ...judged(
        path,
        { panDeg: panDeg!, tiltDeg: tiltDeg! },
        asked,
        plannedBy(record, lens, shareOf),
        1 / profile.pan.unitsPerDeg,
      ),
      ...{ said: '', state: null, seconds: asked },
    })
  }
  return found
}

const line = (name: string, s: Summary) =>
  [
    name.padEnd(28),
    String(s.moves).padStart(6),
    `${(100 * s.onTime).toFixed(0)} %`.padStart(8),
    s.leadMedianMs.toFixed(0).padStart(6),
    s.lateMedianMs.toFixed(0).padStart(8),
    s.lateP95Ms.toFixed(0).padStart(8),
    s.spreadP95Ms.toFixed(0).padStart(8),
    s.endMostDeg.toFixed(3).padStart(8),
    s.offMedianDeg.toFixed(2).padStart(8),
    `${(100 * s.keptMiddle).toFixed(0)} %`.padStart(8),
    `${(100 * s.keptWorst).toFixed(0)} %`.padStart(8),
    (100 * s.leapMedian).toFixed(2).padStart(8),
  ].join('')

export async function benchHeads(stack: Running): Promise<Figure[]> {
  const hands = await Hands.open(stack.address)
  const watch = new Watch(stack.sim)
  const figures: Figure[] = []
  console.log(
    `${COUNT} moves of ${SHORTEST_S} to ${LONGEST_S} s of each camera of the demo\n${' '.repeat(28)} moves in time  lead    late  late95   apart     end     off    kept  always    leap\n${' '.repeat(40)}        ms      ms      ms       °       °                 %/frame`,
  )
  for (const loss of LOSSES) {
    for (const [id] of HEADS) await stack.faults({ dropRate: loss }, id)
    await sleep(1000)
    const all = await Promise.all(
      HEADS.map(async (head, i) => [head[1], await movesOf(stack, hands, watch, head, 100 + i)] as const),
    )
    for (const [name, moves] of all) {
      if (moves.length === 0) continue
      const found = summed(moves)
      console.log(line(loss > 0 ? `${name}, ${100 * loss} % lost` : name, found))
      figures.push(row(`moves of ${name}, ${100 * loss} % lost: in time`, 100 * found.onTime, '%'))
    }
  }
  for (const [id] of HEADS) await stack.faults({ dropRate: 0 }, id)
  watch.close()
  hands.close()
  return figures
}
