import { seeded } from '../../seeded'
import { progressAt } from './easing'
import { planMove } from './planMove'
import { stopSeconds } from './stopping'
import { MOVE_AXES, type MoveAxis, type MoveInput, type MoveLimits, type MoveState, resting } from './types'

const WIDTH_MM = 5.5
const hfovDeg = (zoom: number) => (2 * Math.atan(WIDTH_MM / (2 * Math.exp(zoom))) * 180) / Math.PI
const [WIDE, TELE] = [Math.log(4.4), Math.log(88)]

const random = seeded(20_261_126)
const between = (a: number, b: number) => a + (b - a) * random()
const limit = (speed: number, accel: number) => ({ speed, accel, jerk: accel / between(0.08, 0.4) })
const LIMITS = (): MoveLimits => ({
  pan: limit(between(30, 120), between(60, 400)),
  tilt: limit(between(20, 90), between(60, 400)),
  zoom: limit(between(0.3, 1.2), between(0.8, 5)),
  focus: limit(between(4000, 30_000), between(20_000, 90_000)),
})
const PLACE = () => ({
  pan: between(-170, 170),
  tilt: between(-30, 90),
  zoom: between(WIDE, TELE),
  focus: between(0, 40_000),
})
const still = (place: Record<MoveAxis, number>): MoveState => ({
  pan: resting(place.pan),
  tilt: resting(place.tilt),
  zoom: resting(place.zoom),
  focus: resting(place.focus),
})
const near = (place: Record<MoveAxis, number>) => {
  const hfov = hfovDeg(place.zoom)
  const tilt = Math.min(90, Math.max(-30, place.tilt + between(-0.3, 0.3) * hfov))
  return { ...PLACE(), pan: place.pan + between(-0.5, 0.5) * hfov, tilt }
}
const INPUT = (): MoveInput => {
  const from = PLACE()
  const to = random() < 0.6 ? near(from) : PLACE()
  return {
    from: still(from),
    to,
    seconds: random() < 0.3 ? null : between(0.5, 60),
    limits: LIMITS(),
    hfovDeg,
  }
}

/** How much of a limit is used, at most, in a state: 1 is all of it. */
const used = (state: MoveState, limits: MoveLimits) =>
  Math.max(
    ...MOVE_AXES.flatMap((axis) => [
      Math.abs(state[axis].velocity) / limits[axis].speed,
      Math.abs(state[axis].acceleration) / limits[axis].accel,
    ]),
  )

/** By how much a state does not follow from the two around it, in shares of what the limits allow. */
function breaks(before: MoveState, at: MoveState, after: MoveState, h: number, limits: MoveLimits): number {
  return Math.max(
    ...MOVE_AXES.map((axis) => {
      const { speed, accel, jerk } = limits[axis]
      const velocity = (after[axis].position - before[axis].position) / (2 * h)
      const acceleration = (after[axis].velocity - before[axis].velocity) / (2 * h)
      const step = Math.abs(after[axis].acceleration - before[axis].acceleration)
      return Math.max(
        Math.abs(velocity - at[axis].velocity) / speed,
        Math.abs(acceleration - at[axis].acceleration) / accel,
        // The jerk is limited, so that the acceleration cannot leap.
        step / (jerk * 2 * h * 1.5 + 1e-6 * accel),
      )
    }),
  )
}

test('a million random states: within the limits, and each follows from the one before', () => {
  let states = 0
  let [most, worst] = [0, 0]
  const h = 1e-4
  while (states < 1_000_000) {
    const input = INPUT()
    const { trajectory, leastSeconds, tooShort } = planMove(input)
    const { seconds } = trajectory
    if (tooShort !== (input.seconds !== null && input.seconds < leastSeconds * 0.9999))
      throw new Error('too short')
    const asked = input.seconds
    if (asked !== null && !tooShort && Math.abs(seconds - asked) > 1e-9)
      throw new Error(`${seconds} for ${asked}`)
    for (const axis of MOVE_AXES) {
      const end = trajectory.at(seconds)[axis]
      const scale = Math.max(1, Math.abs(input.to[axis]))
      if (
        Math.abs(end.position - input.to[axis]) > 1e-7 * scale ||
        end.velocity !== 0 ||
        end.acceleration !== 0
      )
        throw new Error(`${axis} ends at ${JSON.stringify(end)}, not at ${input.to[axis]}`)
    }
    for (let i = 0; i < 25; i++) {
      const t = between(h, seconds - h)
      const [before, at, after] = [trajectory.at(t - h), trajectory.at(t), trajectory.at(t + h)]
      most = Math.max(most, used(at, input.limits))
      worst = Math.max(worst, breaks(before, at, after, h, input.limits))
      states += 3
    }
  }
  expect(most).toBeLessThan(1.01)
  expect(worst).toBeLessThan(1)
})

test('replanned from any motion it goes on without a step, ends at the new goal, and keeps what limits can be kept', () => {
  let [most, leap] = [0, 0]
  for (let i = 0; i < 8000; i++) {
    const input = INPUT()
    const first = planMove(input).trajectory
    const from = first.at(between(0, first.seconds))
    const again = planMove({ ...input, from, to: PLACE(), seconds: random() < 0.5 ? null : between(1, 30) })
    const { trajectory } = again
    const begin = trajectory.at(0)
    for (const axis of MOVE_AXES) {
      const { speed, accel } = input.limits[axis]
      leap = Math.max(
        leap,
        Math.abs(begin[axis].position - from[axis].position) / Math.max(1, Math.abs(from[axis].position)),
        Math.abs(begin[axis].velocity - from[axis].velocity) / speed,
        Math.abs(begin[axis].acceleration - from[axis].acceleration) / accel,
      )
    }
    for (let k = 0; k <= 20; k++)
      most = Math.max(most, used(trajectory.at((trajectory.seconds * k) / 20), input.limits))
    expect(again.leastSeconds).toBeGreaterThanOrEqual(
      Math.max(...MOVE_AXES.map((axis) => stopSeconds(from[axis], input.limits[axis]))) - 1e-9,
    )
  }
  expect(leap).toBeLessThan(1e-9)
  expect(most).toBeLessThan(1.06)
})

test('the least time is no more than what a head with these limits needs, and cannot be undercut', () => {
  for (let i = 0; i < 500; i++) {
    const limits = LIMITS()
    const from = { pan: 0, tilt: 0, zoom: WIDE, focus: 0 }
    const way = between(20, 150)
    const { leastSeconds } = planMove({
      ...{ from: still(from), to: { ...from, pan: way }, seconds: null, limits, hfovDeg },
    })
    const { speed, accel } = limits.pan
    const hard = way >= speed ** 2 / accel ? way / speed + speed / accel : 2 * Math.sqrt(way / accel)
    expect(leastSeconds).toBeGreaterThan(hard * 0.999)
    // Smooth ramps cost time: by how much follows from the shape of the ramps and the jerk.
    expect(leastSeconds).toBeLessThan(hard * 1.75 + 2.5 * Math.cbrt(way / limits.pan.jerk))
  }
})

describe('turn and zoom together', () => {
  const screenOf = (state: MoveState, target: { pan: number; tilt: number }) => {
    const rad = Math.PI / 180
    const [p, t] = [(target.pan - state.pan.position) * rad, target.tilt * rad]
    const [x, y, z] = [Math.sin(p) * Math.cos(t), Math.sin(t), Math.cos(p) * Math.cos(t)]
    const c = -state.tilt.position * rad
    const up = y * Math.cos(c) + z * Math.sin(c)
    const ahead = -y * Math.sin(c) + z * Math.cos(c)
    const half = Math.tan((hfovDeg(state.zoom.position) * rad) / 2)
    return { u: x / ahead / half, v: up / ahead / half }
  }
  test.each([
    ['in', WIDE, WIDE + 2],
    ['out', WIDE + 2, WIDE],
  ] as const)(
    'zooming %s, the target crosses the screen straight and stays in the picture',
    (way, z0, z1) => {
      for (let i = 0; i < 300; i++) {
        const from = { pan: between(-60, 60), tilt: between(-20, 25), zoom: z0, focus: 0 }
        const reach = 0.42 * hfovDeg(WIDE)
        const angle = between(0, 2 * Math.PI)
        const to = {
          pan: from.pan + reach * Math.cos(angle),
          tilt: from.tilt + reach * 0.5 * Math.sin(angle),
          zoom: z1,
          focus: 0,
        }
        const { trajectory } = planMove({ from: still(from), to, seconds: 8, limits: LIMITS(), hfovDeg })
        // Going in it is the new subject that is followed, going out the former one.
        const target = way === 'in' ? to : from
        const points = Array.from({ length: 41 }, (_, k) => {
          const state = trajectory.at((trajectory.seconds * k) / 40)
          return {
            ...screenOf(state, target),
            s: progressAt((trajectory.seconds * k) / 40, trajectory.seconds, 0.35).s,
          }
        })
        const end = way === 'in' ? points[0]! : points[40]!
        const length = Math.hypot(end.u, end.v)
        for (const { u, v } of points) {
          expect(Math.max(Math.abs(u), Math.abs(v))).toBeLessThanOrEqual(length * 1.001)
          const off = Math.abs(u * end.v - v * end.u) / length
          expect(off).toBeLessThan(0.001)
        }
      }
    },
  )

  test('a wide turn keeps its horizon', () => {
    const from = { pan: -60, tilt: -10, zoom: Math.log(40), focus: 0 }
    const { trajectory } = planMove({
      from: still(from),
      to: { ...from, pan: 60 },
      seconds: 10,
      limits: LIMITS(),
      hfovDeg,
    })
    for (let t = 0; t < 10; t++) expect(trajectory.at(t).tilt.position).toBeCloseTo(-10, 9)
  })
})
