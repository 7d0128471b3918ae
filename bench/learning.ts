/**
 * Learning: independent heads and lenses from seeds that measure themselves in virtual time, against their truth; and
 * the same questions put to the profile that they began with, which is the barest answer there is.
 */
import { randomMoves, summed } from '../src/conformance/followMoves'
import {
  type Compared,
  compared,
  learns,
  type Truth,
  trueProfile,
  truthOf,
} from '../src/conformance/learning'
import type { HeadProfile } from '../src/core/heads/profile'
import { headProfile } from '../src/core/heads/registry'
import { LEARN_STEPS } from '../src/core/learning/learnt'
import { createLens } from '../src/core/optics/lens'
import { type Figure, row } from './stats'

/** By their reports alone, and with pictures: these take half a minute of computing each. */
const BY_REPORTS = 100
const BY_PICTURES = Number(process.env.HERON_BENCH_LEARNING ?? 8)

const worst = (found: readonly Compared[]) => Math.max(0, ...found.map(({ off }) => Math.abs(off)))
const covered = (found: readonly Compared[]) =>
  found.filter(({ sigmas }) => Math.abs(sigmas) < 2).length / Math.max(1, found.length)
const share = (list: readonly number[], p: number) =>
  [...list].sort((a, b) => a - b)[Math.floor(p * (list.length - 1))]!

const MOVES_EACH = 12
type Moves = Awaited<ReturnType<typeof randomMoves>>

/** Timed moves of the head with what is believed of it. */
const movesWith = (truth: Truth, profile: HeadProfile): Promise<Moves> =>
  randomMoves({
    over: 'framed',
    odd: { head: { ...truth, panZero: 0, tiltZero: 0, zoomTele: 16384, slow: 1 } },
    ...{ profile, count: MOVES_EACH, longest: 20, seed: 5 },
  })

export async function benchLearning(): Promise<Figure[]> {
  const all: Compared[] = []
  const of = (what: RegExp) => all.filter((one) => what.test(one.what))
  const seconds: number[] = []
  let ramps = 0
  for (let seed = 1; seed <= BY_REPORTS; seed++) {
    const truth = truthOf(seed)
    const { learnt } = await learns(truth, seed, ['ends', 'drives'])
    if (!learnt) continue
    all.push(...compared(truth, learnt))
    if (learnt.restartsRamp === truth.restartsRamp) ramps += 1
  }
  let unseen = 0
  const moves = { before: [] as Moves, learnt: [] as Moves, truth: [] as Moves }
  for (let seed = 1; seed <= BY_PICTURES; seed++) {
    const truth = truthOf(seed)
    const found = await learns(truth, seed)
    seconds.push(found.seconds)
    const list = found.learnt ? compared(truth, found.learnt) : []
    moves.before.push(...(await movesWith(truth, headProfile('common-20x'))))
    moves.learnt.push(...(await movesWith(truth, found.after ?? headProfile('common-20x'))))
    moves.truth.push(...(await movesWith(truth, trueProfile(truth))))
    unseen += 10 - list.filter(({ what }) => what.startsWith('fov')).length
    all.push(...list.filter(({ what }) => /^pan$|^tilt$|^fov/.test(what)))
  }
  const pictures = `${BY_PICTURES} heads with pictures`
  const reports = `${BY_REPORTS} heads`
  const before = createLens(headProfile('common-20x').lens)
  const profileOff = Array.from({ length: BY_PICTURES }, (_, i) => {
    const { wideDeg, panSteps } = truthOf(i + 1)
    return [Math.abs(before.hfovDeg(0) / wideDeg - 1), Math.abs(Math.abs(panSteps) / 14.4 - 1)] as const
  })
  const percent = (x: number) => Math.round(x * 10_000) / 100
  const median = (list: readonly Compared[]) =>
    share(
      list.map(({ off }) => Math.abs(off)),
      0.5,
    )
  return [
    row(`steps in a degree, ${pictures}: median`, percent(median(of(/^pan$|^tilt$/))), '%'),
    row(`steps in a degree, ${pictures}: worst`, percent(worst(of(/^pan$|^tilt$/))), '%', 0.5),
    row(
      'the same by the profile that they began with: median',
      percent(
        share(
          profileOff.map((x) => x[1]),
          0.5,
        ),
      ),
      '%',
    ),
    row(`angle of view over the zoom, ${pictures}: median`, percent(median(of(/^fov/))), '%'),
    row(`angle of view over the zoom, ${pictures}: worst`, percent(worst(of(/^fov/))), '%', 1),
    row(
      'the same at the widest by the profile that they began with: median',
      percent(
        share(
          profileOff.map((x) => x[0]),
          0.5,
        ),
      ),
      '%',
    ),
    row(
      'zoom positions that could not be seen, of all',
      percent(unseen / (10 * Math.max(1, BY_PICTURES))),
      '%',
    ),
    row(
      `speeds of drive steps, ${reports}: 99 of 100 within`,
      percent(
        share(
          of(/step/).map(({ off }) => Math.abs(off)),
          0.99,
        ),
      ),
      '%',
      3,
    ),
    row(`speeds of drive steps, ${reports}: worst`, percent(worst(of(/step/))), '%'),
    row(`delay with lag, ${reports}: worst`, Math.round(1000 * worst(of(/delay/))), 'ms', 15),
    row(`ramps that start anew, told rightly, of ${reports}`, ramps, ''),
    row('within twice what is stated: speeds and delays', percent(covered(of(/step|delay/))), '%'),
    row('within twice what is stated: steps and angles', percent(covered(of(/^pan$|^tilt$|^fov/))), '%'),
    ...(['before', 'learnt', 'truth'] as const).flatMap((which) => {
      const { onTime, offMedianDeg } = summed(moves[which])
      const by = { before: 'began with', learnt: 'have learnt', truth: 'truly are' }[which]
      return [
        row(`timed moves, by what they ${by}: in time`, Math.round(100 * onTime), '%'),
        row(`timed moves, by what they ${by}: off the plan, median`, offMedianDeg, '°'),
      ]
    }),
    row(
      `of the camera's time, all ${LEARN_STEPS.length} steps, longest`,
      Math.round(Math.max(...seconds)),
      's',
      360,
    ),
  ]
}
