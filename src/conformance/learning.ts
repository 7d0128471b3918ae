/**
 * An independent camera that learns its own head: its truth is drawn from a seed, its pictures are drawn of the barn
 * through a lens of its own, with noise, while people move. What draws them shares nothing with what reads them.
 */
import { createCanvas, loadImage } from '@napi-rs/canvas'
import type { HeadProfile } from '../core/heads/profile'
import { headProfile } from '../core/heads/registry'
import {
  type HeadLearnt,
  LEARN_STEPS,
  type LearnStep,
  profileLearnt,
  together,
} from '../core/learning/learnt'
import type { CameraOrder } from '../core/orders/orders'
import { ALL_PARTS, QUICK } from '../core/presets/pace'
import type { Round } from '../core/presets/round'
import { seeded } from '../core/seeded'
import { type LearnFrom, learnFromPictures } from '../server/jobs/learnTurning'
import { type MatchOrder, matchPictures } from '../server/jobs/matches'
import { learnRound } from '../server/presets/learnRound'
import type { RoundWork } from '../server/presets/roundWork'
import { renderShots } from '../simulator/scene/render'
import { fieldRig } from './fieldRig'
import { connects } from './proof'

const RAD = Math.PI / 180
const [WIDTH, HEIGHT] = [640, 360]
const { floor, hypot, max, min } = Math

export interface Truth {
  panSteps: number
  tiltSteps: number
  panSpeeds: number[]
  tiltSpeeds: number[]
  zoomSpeeds: number[]
  wideDeg: number
  ratio: number
  /** How the focal length grows over the zoom: 1 evenly to the eye. */
  shape: number
  bend: number
  axis: [number, number]
  delayMs: number
  lagMs: number
  renewMs: number
  accel: number
  panEnds: [number, number]
  tiltEnds: [number, number]
  restartsRamp: boolean
  misses: number
  /** The light is off. */
  dark?: boolean
}

export function truthOf(seed: number): Truth {
  const random = seeded(seed)
  const between = (a: number, b: number) => a + (b - a) * random()
  const either = <T>(a: T, b: T) => (random() < 0.5 ? a : b)
  const speeds = (count: number, top: number) => {
    const bent = between(1.6, 2.6)
    return Array.from(
      { length: count },
      (_, i) => 0.3 + (top - 0.3) * ((i + 1) / count) ** bent * between(0.97, 1.03),
    ).sort((a, b) => a - b)
  }
  const half = between(150, 176)
  return {
    panSteps: between(14, 110) * either(1, -1),
    tiltSteps: between(14, 110) * either(1, -1),
    panSpeeds: speeds(24, between(45, 90)),
    tiltSpeeds: speeds(20, between(30, 60)),
    zoomSpeeds: speeds(8, 1).map((s) => 0.03 + s * 0.4),
    wideDeg: between(50, 72),
    ratio: between(10, 30),
    shape: between(0.75, 1.35),
    bend: between(-0.1, 0.02),
    axis: [between(-0.01, 0.01), between(-0.01, 0.01)],
    delayMs: between(20, 120),
    lagMs: between(10, 90),
    renewMs: between(16, 90),
    accel: between(100, 350),
    panEnds: [-half, half],
    tiltEnds: [-between(25, 45), between(60, 90)],
    restartsRamp: random() < 0.3,
    misses: 0,
  }
}

const focalAt = ({ wideDeg, ratio, shape }: Truth, zoom: number) =>
  ratio ** (zoom ** shape) / Math.tan((wideDeg * RAD) / 2)

/** What the truth's lens shows, as a JPEG with the noise of a sensor. */
async function photograph(
  truth: Truth,
  at: { pan: number; tilt: number; zoom: number },
  atS: number,
  noise: () => number,
) {
  const focal = focalAt(truth, at.zoom)
  const grow = 1.25
  const hfovDeg = (2 * Math.atan(grow / focal)) / RAD
  const [bw, bh] = [WIDTH * 1.5, HEIGHT * 1.5]
  const shot = {
    eye: [0, 3.4, 7] as const,
    yawDeg: 0,
    panDeg: at.pan,
    tiltDeg: at.tilt,
    hfovDeg,
    blurPx: 0,
    atS,
    power: !truth.dark,
  }
  const big = createCanvas(bw, bh)
  big.getContext('2d').drawImage(await loadImage(renderShots([shot], bw, bh, 97)), 0, 0)
  const from = big.getContext('2d').getImageData(0, 0, bw, bh).data
  const out = createCanvas(WIDTH, HEIGHT)
  const image = out.getContext('2d').createImageData(WIDTH, HEIGHT)
  const { data } = image
  const [cx, cy] = truth.axis
  const k1 = truth.bend
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++) {
      const u = ((x + 0.5) / (WIDTH / 2) - 1 - cx) / focal
      const v = ((HEIGHT / 2 - y - 0.5) / (WIDTH / 2) - cy) / focal
      const bent = hypot(u, v)
      let r = bent
      for (let i = 0; i < 6; i++) r -= (r * (1 + k1 * r * r) - bent) / (1 + 3 * k1 * r * r)
      const k = (bent > 0 ? r / bent : 1) * (focal / grow)
      const sx = max(0, min(bw - 1.01, (u * k + 1) * (bw / 2) - 0.5))
      const sy = max(0, min(bh - 1.01, bh / 2 - v * k * (bw / 2) - 0.5))
      const [x0, y0] = [floor(sx), floor(sy)]
      const [fx, fy] = [sx - x0, sy - y0]
      const p = 4 * (y0 * bw + x0)
      const q = p + 4 * bw
      const n = noise()
      for (let c = 0; c < 3; c++)
        data[4 * (y * WIDTH + x) + c] =
          (from[p + c]! * (1 - fx) + from[p + 4 + c]! * fx) * (1 - fy) +
          (from[q + c]! * (1 - fx) + from[q + 4 + c]! * fx) * fy +
          n
      data[4 * (y * WIDTH + x) + 3] = 255
    }
  out.getContext('2d').putImageData(image, 0, 0)
  return out.encodeSync('jpeg', 86)
}

/** Of full brightness, one standard deviation. */
const NOISE = 0.02

/** Lets a camera with this truth learn its head with a profile that is not its own. */
export async function learns(
  truth: Truth,
  seed: number,
  steps: readonly LearnStep[] = LEARN_STEPS,
  /** What becomes of an order, by its number: null, nothing special. */
  fate: (order: CameraOrder, n: number) => 'refused' | 'silent' | 'taken' | null = () => null,
) {
  const profile = headProfile('common-20x')
  const rig = fieldRig({
    over: 'framed',
    seed,
    profile,
    odd: {
      head: {
        ...truth,
        panZero: 0,
        tiltZero: 0,
        zoomTele: 16384,
        slow: 1,
      },
    },
  })
  const { camera, clock, truth: read } = rig
  const random = seeded(seed + 1000)
  const noise = () => 255 * NOISE * (random() + random() + random() - 1.5) * 2
  await connects(rig)
  await clock.run(2000)
  let learnt: HeadLearnt | null = null
  let told: Partial<Round> = {}
  const troubles: string[] = []
  const ended: string[] = []
  let goesOn = true
  let orders = 0
  const beganMs = clock.now()
  /** What is drawn and computed takes none of the camera's time. */
  let computing = 0
  const aside = async <T>(work: Promise<T>): Promise<T> => {
    computing += 1
    return work.finally(() => {
      computing -= 1
    })
  }
  const work = {
    clock,
    member: {
      camera,
      row: { id: 'c', mount: { upsideDown: false, mirrored: false }, limits: null },
      pictures: { fresh: () => aside(photograph(truth, read(), clock.now() / 1000, noise)) },
    },
    async perform(order: CameraOrder) {
      const what = fate(order, orders++)
      if (what === 'refused') return { ok: false as const, message: 'Gallery is on air.' }
      if (what === 'silent') rig.way.loss = 1
      if (what === 'taken') {
        goesOn = false
        camera.halt()
      }
      if (order.t === 'goToPose')
        return camera.recall({
          id: '',
          light: null,
          pace: QUICK,
          hold: false,
          parts: ALL_PARTS,
          pose: order.pose,
        })
      return camera.perform(order as Parameters<typeof camera.perform>[0])
    },
    get goesOn() {
      return goesOn
    },
    end(reason: string) {
      ended.push(reason)
      goesOn = false
    },
    tell: (change: Partial<Round>) => {
      told = { ...told, ...change }
    },
    trouble: (text: string) => troubles.push(text),
    store: {
      fromPictures: (order: LearnFrom) => aside(learnFromPictures(order)),
      matches: (order: MatchOrder) => aside(matchPictures(order)),
      learnt: async () => learnt,
      keepLearnt: async (found: HeadLearnt) => {
        learnt = together(learnt, found)
      },
    },
  } as unknown as RoundWork
  let over = false
  const done = learnRound(work, steps).then(() => {
    over = true
  })
  for (let i = 0; i < 2_000_000 && !over; i++) {
    if (computing === 0) await clock.run(10)
    await new Promise((resolve) => setImmediate(resolve))
  }
  await done
  const found = learnt as HeadLearnt | null
  const seconds = (clock.now() - beganMs) / 1000
  rig.way.loss = 0
  await clock.run(3000)
  return {
    learnt: found,
    told,
    troubles,
    ended,
    seconds,
    rests: !read().moving,
    before: camera.profile,
    after: found && profileLearnt(profile, found),
  }
}

/** The head as its truth is: the profile that nobody ever has. */
export function trueProfile(truth: Truth): HeadProfile {
  const profile = headProfile('common-20x')
  const { delayMs, lagMs, renewMs, restartsRamp, accel } = truth
  const axis = (
    of: HeadProfile['pan'],
    steps: number,
    speeds: readonly number[],
    ends: [number, number],
  ) => ({
    ...of,
    unitsPerDeg: Math.abs(steps),
    reversed: steps < 0,
    speedsDegPerSec: of.speedsDegPerSec.map((_, i) => speeds[min(i, speeds.length - 1)]!),
    accelDegPerSec2: accel,
    minDeg: ends[0],
    maxDeg: ends[1],
  })
  const mm = profile.lens.sensorWidthMm / 2
  return {
    ...profile,
    pan: axis(profile.pan, truth.panSteps, truth.panSpeeds, truth.panEnds),
    tilt: axis(profile.tilt, truth.tiltSteps, truth.tiltSpeeds, truth.tiltEnds),
    lens: {
      ...profile.lens,
      zoomCurve: Array.from({ length: 33 }, (_, i) => [512 * i, focalAt(truth, i / 32) * mm]),
      bend: [truth.bend, 0],
    },
    zoomSpeedsPerSec: truth.zoomSpeeds.map((s) => s * 16384),
    delaySeconds: delayMs / 1000,
    reportLagSeconds: (lagMs + renewMs / 2) / 1000,
    restartsRamp,
  }
}

export interface Compared {
  what: string
  /** Relative error, or seconds. */
  off: number
  /** In standard deviations as stated. */
  sigmas: number
}

/** Each figure against the truth. */
export function compared(truth: Truth, learnt: HeadLearnt): Compared[] {
  const out: Compared[] = []
  const add = (what: string, figure: { value: number; sigma: number } | null | undefined, is: number) => {
    if (figure) out.push({ what, off: figure.value / is - 1, sigmas: (figure.value - is) / figure.sigma })
  }
  add('pan', learnt.pan.degPerStep, 1 / truth.panSteps)
  add('tilt', learnt.tilt.degPerStep, 1 / truth.tiltSteps)
  for (const { zoom, focal } of learnt.focals ?? []) {
    const is = focalAt(truth, zoom / 16384)
    const [a, b] = [Math.atan(1 / focal.value), Math.atan(1 / is)]
    out.push({ what: `fov ${zoom}`, off: a / b - 1, sigmas: (focal.value - is) / focal.sigma })
  }
  const axis = (name: 'pan' | 'tilt', speeds: readonly number[], steps: number) =>
    learnt[name].stepsPerSec?.forEach((figure, i) => {
      add(`${name} step ${i + 1}`, figure, speeds[Math.min(i, speeds.length - 1)]! * Math.abs(steps))
    })
  axis('pan', truth.panSpeeds, truth.panSteps)
  axis('tilt', truth.tiltSpeeds, truth.tiltSteps)
  learnt.zoomPerSec?.forEach((figure, i) => {
    add(`zoom step ${i}`, figure, truth.zoomSpeeds[i]! * 16384)
  })
  if (learnt.delaySeconds) {
    const { value, sigma } = learnt.delaySeconds
    // A report is as old as its lag, and by half of what lies between two on the mean.
    const is = (truth.delayMs + truth.lagMs) / 1000
    out.push({ what: 'delay', off: value - is, sigmas: (value - is) / sigma })
  }
  return out
}
