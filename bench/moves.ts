/**
 * Timed moves: 200 for each way of being sent and each loss against the independent head, in virtual time, beside the
 * same moves as plain absolute orders; and what a plan costs. BENCH_MOVES sets how many, BENCH_CHARTS a folder for a
 * drawing of one of each.
 */
import { writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { type Drawn, type MovesOf, randomMoves, summed } from '../src/conformance/followMoves'
import { planMove } from '../src/core/motion/plan/planMove'
import { type MoveInput, resting } from '../src/core/motion/plan/types'
import { seeded } from '../src/core/seeded'
import { moveChart } from './moveChart'
import { movesHead, movesLine } from './moveTable'
import { type Figure, quantile, row } from './stats'

const COUNT = Number(process.env.BENCH_MOVES ?? 200)
const CHARTS = process.env.BENCH_CHARTS
const PLANS = 20_000
const WARM_UP = 3000

const WAYS: [string, Pick<MovesOf, 'over' | 'odd' | 'loss' | 'gapMs'>][] = [
  ['framed UDP', { over: 'framed' }],
  ['framed UDP, 5 % lost', { over: 'framed', loss: 0.05 }],
  ['framed UDP, 20 % lost', { over: 'framed', loss: 0.2 }],
  ['framed UDP, as fast as they come', { over: 'framed', gapMs: 0 }],
  ['the same, 5 % lost', { over: 'framed', gapMs: 0, loss: 0.05 }],
  ['the same, 20 % lost', { over: 'framed', gapMs: 0, loss: 0.2 }],
  ['raw UDP', { over: 'raw' }],
  ['raw UDP, 5 % lost', { over: 'raw', loss: 0.05 }],
  ['raw UDP, 20 % lost', { over: 'raw', loss: 0.2 }],
  ['TCP', { over: 'tcp' }],
  ['TCP, 3 % held up', { over: 'tcp', loss: 0.03 }],
  ['a serial line', { over: 'serial' }],
  ['its ramp restarts', { over: 'framed', odd: { head: { restartsRamp: true } } }],
]

const hfovDeg = (zoom: number) => (2 * Math.atan(5.5 / (2 * Math.exp(zoom))) * 180) / Math.PI

function planTimes(): Figure[] {
  const random = seeded(9)
  const limits = (speed: number) => ({ speed, accel: speed * 4, jerk: speed * 16 })
  const place = () => ({
    pan: 100 * random(),
    tilt: 40 * random(),
    zoom: 1.5 + 2 * random(),
    focus: 9000 * random(),
  })
  const still = (p: ReturnType<typeof place>) => ({
    pan: resting(p.pan),
    tilt: resting(p.tilt),
    zoom: resting(p.zoom),
    focus: resting(p.focus),
  })
  const [fresh, again]: [number[], number[]] = [[], []]
  for (let i = 0; i < PLANS; i++) {
    const input: MoveInput = {
      from: still(place()),
      to: place(),
      seconds: 1 + 20 * random(),
      limits: { pan: limits(60), tilt: limits(50), zoom: limits(0.8), focus: limits(9000) },
      hfovDeg,
    }
    const a = performance.now()
    const { trajectory } = planMove(input)
    const b = performance.now()
    const from = trajectory.at(trajectory.seconds * random())
    const c = performance.now()
    planMove({ ...input, from, to: place() })
    const d = performance.now()
    if (i < WARM_UP) continue
    fresh.push(b - a)
    again.push(d - c)
  }
  return [
    row('a plan from rest, p99', quantile(fresh, 0.99), 'ms', 0.2),
    row('a plan from motion, p99', quantile(again, 0.99), 'ms', 0.2),
  ]
}

export async function benchMoves(): Promise<Figure[]> {
  const figures = planTimes()
  console.log(`${COUNT} moves of 2 to 60 s each\n${movesHead()}`)
  for (const [name, way] of WAYS)
    for (const plain of [false, true]) {
      const drawn: Drawn[] = []
      const onMove = (one: Drawn) => {
        if (drawn.length === 0 && one.seconds > 6 && one.seconds < 14) drawn.push(one)
      }
      const found = summed(await randomMoves({ ...way, count: COUNT, seed: 77, plain, onMove }))
      const title = plain ? `${name}, as plain orders` : name
      if (CHARTS && drawn[0])
        writeFileSync(
          join(CHARTS, `${title.replace(/[^a-zA-Z0-9]+/g, '-').toLowerCase()}.svg`),
          moveChart(title, drawn[0]),
        )
      console.log(movesLine(plain ? '  as plain orders' : name, found))
      if (plain) continue
      figures.push(
        row(`moves over ${name}: in time`, 100 * found.onTime, '%'),
        row(`moves over ${name}: farthest from the goal at the end`, found.endMostDeg, '°', 1 / 14.4),
        row(`moves over ${name}: off the plan, median`, found.offMedianDeg, '°', 2 / 14.4),
      )
    }
  return figures
}
