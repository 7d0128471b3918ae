/** The steps of learning that look: the head's angles and the lens at its widest, then the whole zoom. */
import type { HeadLearnt } from '../../core/learning/learnt'
import type { Figure, Guess, Look, Turning } from '../../core/learning/turning'
import { createLens } from '../../core/optics/lens'
import type { Counted, Learner } from './learner'
import { AROUND, type Known, mountSign } from './learnSteps'
import type { RoundWork } from './roundWork'

/** Pictures beside each other, of the picture's width and height: even where the profile is far off they overlap. */
const BESIDE = 0.33
const ABOVE = 0.4
const COLUMNS = 5
/** Points are found to about this, half-widths of a picture of 640. */
const POINT_SIGMA = 0.3 / 320
/** What closes the circle is seen by both ends, with so much of a picture in common. */
const CLOSES = 0.35
const STATIONS = 10
/** At each zoom a second picture is taken so far beside the first. */
const ASIDE = 0.3

const NO_PICTURE =
  'The camera sends no pictures, so its angles cannot be seen. See its picture’s address in Setup, Cameras.'
const TOO_LITTLE =
  'There was too little to see to measure the angles. Point it where there is detail that stands still, and more light, then do this step again.'
const TOO_LITTLE_FAR =
  'Zoomed in there was too little to see. Point it at something with detail that stands still, and do the zoom again.'

const finite = (figure: Figure) => ({ value: figure.value, sigma: Math.min(figure.sigma, 1e6) })
const clamped = (x: number, { low, high }: { low: number; high: number }) => Math.min(high, Math.max(low, x))

/** From the profile's zero, as the mathematics has it. */
const lookOf = ({ profile }: Known, at: Counted, zoom: number): Look => ({
  pan: at.pan - profile.pan.zeroUnits,
  tilt: at.tilt - profile.tilt.zeroUnits,
  zoom,
})

function guessOf(known: Known, zooms: readonly number[]): Guess {
  const { profile, turning } = known
  const lens = createLens(profile.lens)
  const half = profile.lens.sensorWidthMm / 2
  // Where the widest is known better than by the profile, the rest of its curve goes with it.
  const factor = turning ? turning.focals[0]!.value / (lens.focalMm(zooms[0]!) / half) : 1
  return {
    panDegPerStep: known.panDegPerStep,
    tiltDegPerStep: known.tiltDegPerStep,
    tiltAtZeroDeg: turning?.tiltAtZeroDeg.value ?? 0,
    focals: zooms.map((zoom) => (factor * lens.focalMm(zoom)) / half),
    pointSigma: POINT_SIGMA,
  }
}

/** As the head has it; zero and directions are the picture's otherwise. */
function headFigures(known: Known, t: NonNullable<Known['turning']>): Partial<HeadLearnt> {
  const sign = mountSign(known)
  const of = (figure: Figure) => ({ ...finite(figure), value: sign * figure.value })
  return {
    pan: { degPerStep: of(t.panDegPerStep) },
    tilt: { degPerStep: of(t.tiltDegPerStep) },
    tiltAtZeroDeg: of(t.tiltAtZeroDeg),
    bend: [finite(t.bend[0]), finite(t.bend[1])],
    axisWide: [finite(t.axisWide[0]), finite(t.axisWide[1])],
  }
}

const TRIES = 5
/** Half-widths that a first turn is to show at least, and aims at. */
const [SHOWS, AIMED] = [0.15, 0.4]

/** About how many degrees a step is and which way, by one turn that its picture shows. @returns null where it shows none */
async function roughly(
  learner: Learner,
  known: Known,
  work: RoundWork,
  axis: 'pan' | 'tilt',
): Promise<number | null> {
  const lens = createLens(known.profile.lens)
  const was = axis === 'pan' ? known.panDegPerStep : known.tiltDegPerStep
  const focal = 1 / Math.tan((lens.hfovDeg(lens.wide) * Math.PI) / 360)
  const from = learner.here
  const before = await learner.look()
  if (!before) return null
  let steps = Math.max(4, Math.round((AIMED / focal / Math.abs(was)) * (180 / Math.PI)))
  for (let i = 0; i < TRIES; i++) {
    const up = known.unsure || from[axis] + steps <= known[axis].high
    const wanted = from[axis] + (up ? steps : -steps)
    // Where nobody knows its ends, they are not in the way of a small turn.
    const place = known.unsure ? wanted : clamped(wanted, known[axis])
    const at = await learner.goTo({ ...from, zoom: known.zoom.low, [axis]: place })
    const after = await learner.look()
    if (!after) return null
    const [matched] = await work.store.matches({
      pictures: [before, after],
      pairs: [{ a: 0, b: 1, laid: null }],
    })
    const mirror = axis === 'pan' && known.mount.mirrored ? -1 : 1
    const k = axis === 'pan' ? 0 : 1
    const turns = (matched?.points ?? [])
      .map((q) => mirror * (Math.atan(q[k]! / focal) - Math.atan(q[k + 2]! / focal)))
      .sort((a, b) => a - b)
    const turn = turns[turns.length >> 1]
    await learner.goTo({ ...from, zoom: known.zoom.low })
    if (turn === undefined) steps = Math.max(2, Math.round(steps / 4))
    else if (Math.abs(turn * focal) < SHOWS)
      steps = Math.round(steps * Math.min(6, Math.max(2, AIMED / Math.max(0.02, Math.abs(turn * focal)))))
    else return (turn * 180) / Math.PI / (at[axis] - from[axis])
  }
  return null
}

/** Five pictures in each of two rows, and the two ends of the pan where they see the same thing. */
export async function learnLens(
  learner: Learner,
  known: Known,
  work: RoundWork,
): Promise<Partial<HeadLearnt> | string> {
  const { profile, zoom } = known
  const lens = createLens(profile.lens)
  const hfov = lens.hfovDeg(lens.wide)
  await learner.goTo({ ...learner.here, zoom: zoom.low })
  const [panRough, tiltRough] = [
    await roughly(learner, known, work, 'pan'),
    await roughly(learner, known, work, 'tilt'),
  ]
  if (!panRough || !tiltRough) return (await learner.look()) ? TOO_LITTLE : NO_PICTURE
  known.panDegPerStep = panRough
  known.tiltDegPerStep = tiltRough
  if (known.unsure) {
    const from = learner.here
    for (const axis of ['pan', 'tilt'] as const) {
      const reach = AROUND[axis] / Math.abs(axis === 'pan' ? panRough : tiltRough)
      known[axis] = { low: from[axis] - reach, high: from[axis] + reach }
    }
  }
  const { pan, tilt } = known
  const [right, up] = [
    (BESIDE * hfov) / Math.abs(known.panDegPerStep),
    (ABOVE * lens.vfovDeg(lens.wide)) / Math.abs(known.tiltDegPerStep),
  ]
  const start = learner.here
  const room = (COLUMNS - 1) / 2
  const middle = {
    pan: clamped(start.pan, { low: pan.low + room * right, high: pan.high - room * right }),
    tilt: clamped(start.tilt, { low: tilt.low + up / 2, high: tilt.high - up / 2 }),
  }
  known.looks = []
  known.pairs = []
  const take = async (place: { pan: number; tilt: number }) => {
    const at = await learner.goTo({
      pan: clamped(place.pan, pan),
      tilt: clamped(place.tilt, tilt),
      zoom: zoom.low,
    })
    const jpeg = await learner.look()
    if (jpeg) known.looks.push({ jpeg, at })
    return jpeg ? known.looks.length - 1 : null
  }
  const rows: number[][] = []
  for (const side of [-1, 1]) {
    const row: number[] = []
    for (let i = 0; i < COLUMNS; i++) {
      const taken = await take({
        pan: middle.pan + side * (i - room) * right,
        tilt: middle.tilt + (side * up) / 2,
      })
      if (taken === null) return NO_PICTURE
      row.push(taken)
    }
    rows.push(side > 0 ? row : row.reverse())
  }
  for (const row of rows)
    row.forEach((_, i) => {
      if (i > 0) known.pairs.push([row[i - 1]!, row[i]!])
      if (i > 1) known.pairs.push([row[i - 2]!, row[i]!])
    })
  rows[0]!.forEach((one, i) => {
    known.pairs.push([one, rows[1]![i]!])
  })
  // By what its range and its lens are by the profile; whether it is so, the pictures tell.
  const beyond = (pan.high - pan.low) * Math.abs(known.panDegPerStep) + hfov * (1 - CLOSES) - 360
  const closes = beyond > 0 && (pan.high - pan.low) * Math.abs(known.panDegPerStep) < 420
  if (closes) {
    const ends = [
      await take({ pan: pan.low, tilt: middle.tilt }),
      await take({ pan: pan.high, tilt: middle.tilt }),
    ]
    if (ends[0] !== null && ends[1] !== null) known.pairs.push([ends[0]!, ends[1]!])
  }
  const found = await work.store.fromPictures({
    pictures: known.looks.map(({ jpeg }) => jpeg),
    looks: known.looks.map(({ at }) => lookOf(known, at, 0)),
    pairs: known.pairs,
    guess: guessOf(known, [zoom.low]),
    near: false,
    mirrored: known.mount.mirrored,
  })
  const { turning, targets } = found
  if (!turning || !Number.isFinite(turning.panDegPerStep.sigma)) return TOO_LITTLE
  known.turning = turning
  known.targets = targets
  known.panDegPerStep = turning.panDegPerStep.value
  known.tiltDegPerStep = turning.tiltDegPerStep.value
  known.closes = closes && (found.found.at(-1) ?? 0) > 0
  return {
    ...headFigures(known, turning),
    closes: known.closes,
    focals: [{ zoom: zoom.low, focal: finite(turning.focals[0]!) }],
  }
}

/** The pictures of the whole zoom as they come in. */
class ZoomLooks {
  readonly looks: { jpeg: Uint8Array; look: Look }[]
  readonly pairs: [number, number][]
  /** By zoom position: does a pair of pictures lead to it? */
  reached: boolean[]

  constructor(
    private readonly learner: Learner,
    private readonly known: Known,
    private readonly zooms: readonly number[],
    readonly guess: Guess,
  ) {
    this.looks = known.looks.map(({ jpeg, at }) => ({ jpeg, look: lookOf(known, at, 0) }))
    this.pairs = [...known.pairs]
    this.reached = zooms.map(() => false)
  }

  /** Looks at one place from these zoom positions on. @returns false where the camera sends no pictures */
  async at(goal: { pan: number; tilt: number }, from: number): Promise<boolean> {
    const { known, pairs, looks, guess } = this
    const straight: number[] = []
    for (let i = from; i < this.zooms.length; i++) {
      const hfov = (2 * Math.atan(1 / guess.focals[i]!) * 180) / Math.PI
      const aside = (ASIDE * hfov) / Math.abs(known.panDegPerStep)
      const side = goal.pan + aside > known.pan.high ? -aside : aside
      const [one, other] = [await this.take(goal, i), await this.take({ ...goal, pan: goal.pan + side }, i)]
      if (one === null || other === null) return false
      pairs.push([one, other])
      for (const back of [1, 2]) if (i - back >= from) pairs.push([straight[i - back - from]!, one])
      straight.push(one)
      if (i > 0) continue
      // The widest overlaps with the pictures of the step before.
      const aim = looks[one]!.look
      const near = looks.findIndex(
        ({ look }, k) =>
          k < known.looks.length && Math.abs((look.pan - aim.pan) * known.panDegPerStep) < NEAR_DEG,
      )
      if (near >= 0) pairs.push([near, one])
    }
    return true
  }

  private async take(place: { pan: number; tilt: number }, i: number): Promise<number | null> {
    const at = await this.learner.goTo({ ...place, zoom: this.zooms[i]! })
    const jpeg = await this.learner.look()
    if (jpeg) this.looks.push({ jpeg, look: lookOf(this.known, at, i) })
    return jpeg ? this.looks.length - 1 : null
  }

  async read(work: RoundWork): Promise<Turning | null> {
    const { looks, pairs, guess } = this
    const { turning, found } = await work.store.fromPictures({
      pictures: looks.map(({ jpeg }) => jpeg),
      looks: looks.map(({ look }) => look),
      pairs,
      guess,
      near: true,
      mirrored: this.known.mount.mirrored,
    })
    // Both the turn aside and a neighbour must be seen: one alone may be a face that moves.
    const leads = (i: number, same: boolean) =>
      pairs.some(([a, b], k) => {
        const [za, zb] = [looks[a]!.look.zoom, looks[b]!.look.zoom]
        return found[k]! > 0 && (za === i || zb === i) && (za === zb) === same
      })
    this.reached = this.zooms.map((_, i) => {
      const focal = turning?.focals[i]
      const sure = focal !== undefined && focal.sigma < MOST_UNSURE * focal.value
      return sure && leads(i, false) && (leads(i, true) || i === 0)
    })
    return turning
  }
}

/** At each of ten zoom positions two pictures; neighbours tell the scale between them, and the turn the angle itself. */
export async function learnZoom(
  learner: Learner,
  known: Known,
  work: RoundWork,
): Promise<Partial<HeadLearnt> | string> {
  const { profile, zoom } = known
  const start = learner.here
  const here = { pan: start.pan - profile.pan.zeroUnits, tilt: start.tilt - profile.tilt.zeroUnits }
  let places = known.targets
  if (known.looks.length === 0 || !known.turning) {
    const wide = await learnLens(learner, known, work)
    if (typeof wide === 'string') return wide
    // Done again by itself, it looks where it was pointed.
    places = [here, ...known.targets]
  }
  if (places.length === 0) places = [here]
  const { pan, tilt } = known
  const zooms = Array.from({ length: STATIONS }, (_, i) =>
    Math.round(zoom.low + ((zoom.high - zoom.low) * i) / (STATIONS - 1)),
  )
  const all = new ZoomLooks(learner, known, zooms, guessOf(known, zooms))
  let turning: Turning | null = null
  for (const place of places) {
    const missing = all.reached.indexOf(false)
    if (missing < 0) break
    const goal = {
      pan: clamped(place.pan + profile.pan.zeroUnits, pan),
      tilt: clamped(place.tilt + profile.tilt.zeroUnits, tilt),
    }
    if (!(await all.at(goal, Math.max(0, missing - 2)))) return NO_PICTURE
    turning = await all.read(work)
    if (!turning) return TOO_LITTLE_FAR
  }
  const focals = zooms.flatMap((at, i) =>
    all.reached[i] ? [{ zoom: at, focal: finite(turning!.focals[i]!) }] : [],
  )
  if (!turning || focals.length < LEAST_STATIONS) return TOO_LITTLE_FAR
  known.turning = turning
  if (focals.length < STATIONS)
    work.trouble(`${STATIONS - focals.length} of ${STATIONS} zoom positions: ${TOO_LITTLE_FAR}`)
  return {
    ...headFigures(known, turning),
    axisTele: [finite(turning.axisTele[0]), finite(turning.axisTele[1])],
    focals,
    zoomEnds: [zoom.low, zoom.high],
  }
}

const MOST_UNSURE = 0.02
const LEAST_STATIONS = 4
/** Pictures at the widest that are no further apart overlap. */
const NEAR_DEG = 20
