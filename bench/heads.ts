/**
 * Timed moves of every camera of the demo, over its own link and protocol, judged by what the stand-in's body truly
 * did; in virtual time, without loss and with packets lost, beside the same moves as plain absolute orders.
 * BENCH_HEAD_MOVES sets how many each makes, BENCH_HEAD_LOSSES the shares that are lost.
 */
import { BARN_HEADS, type BarnHead, barnMoves } from '../src/conformance/barnRig'
import { HELD_UP, summed } from '../src/conformance/followMoves'
import { movesHead, movesLine } from './moveTable'
import { type Figure, row } from './stats'

const COUNT = Number(process.env.BENCH_HEAD_MOVES ?? 200)
const LOSSES = (process.env.BENCH_HEAD_LOSSES ?? '0,0.05,0.2').split(',').map(Number)
const NAMES: Record<BarnHead, string> = {
  gallery: 'Gallery, framed UDP',
  'stage-left': 'Stage left, TCP',
  lectern: 'Lectern, a serial line',
  trio: 'Interval trio, the same line',
  benches: 'Benches, ONVIF',
  scoreboard: 'Scoreboard, a rig',
}
/** Those that nothing can be lost to: it is late instead, and more than so much is no connection any more. */
const CONNECTED: ReadonlySet<BarnHead> = new Set(['stage-left', 'benches'])

export async function benchHeads(): Promise<Figure[]> {
  const figures: Figure[] = []
  console.log(`${COUNT} moves of 2 to 60 s of each camera of the demo\n${movesHead()}`)
  for (const id of BARN_HEADS)
    for (const loss of LOSSES) {
      const connected = CONNECTED.has(id)
      if (connected && loss > HELD_UP && loss !== Math.min(...LOSSES.filter((l) => l > HELD_UP))) continue
      const name = loss === 0 ? NAMES[id] : `${NAMES[id]}, ${lossWords(connected, loss)}`
      for (const plain of [false, true]) {
        const found = summed(await barnMoves(id, { count: COUNT, seed: 77, loss, plain }))
        console.log(movesLine(plain ? '  as plain orders' : name, found))
        if (!plain)
          figures.push(
            row(`moves of ${name}: in time`, 100 * found.onTime, '%'),
            row(`moves of ${name}: off the plan, median`, found.offMedianDeg, '°'),
          )
      }
    }
  return figures
}

const lossWords = (connected: boolean, loss: number) =>
  connected ? `${100 * Math.min(loss, HELD_UP)} % held up` : `${100 * loss} % lost`
