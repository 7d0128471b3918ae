/** One mover for each group of axes: hands, fingers and glides beside each other and after each other. */
import { UPRIGHT } from '../../core/cameras/connection'
import { headProfile } from '../../core/heads/registry'
import { SpeedLedger } from '../../core/motion/follow/ledger'
import { createLens } from '../../core/optics/lens'
import { sightOf } from '../../core/optics/sight'
import { NO_LIMITS, PUSH_AT_REST, type Speeds } from '../../core/stick/speeds'
import { Steering } from './steering'
import { HandClock } from './testing/handClock'

function setUp() {
  const clock = new HandClock()
  const profile = headProfile('marsh-20x')
  const lens = createLens(profile.lens)
  const sight = sightOf({ profile, lens, mount: UPRIGHT, limits: NO_LIMITS, digital: false })
  const at = { panDeg: 0 as number | null, tiltDeg: 0, zoom: lens.wide }
  const applied: { speeds: Speeds; refines: boolean; ms: number }[] = []
  let lastMs = clock.now()
  /** Null: it is read all the time. */
  let readMs: number | null = null
  const steering = new Steering(
    {
      profile,
      ledger: new SpeedLedger(profile),
      sight: () => sight,
      known: () => ({ ...at, panTiltAtMs: readMs ?? clock.now(), zoomAtMs: readMs ?? clock.now() }),
      apply: (speeds, refines) => {
        const seconds = (clock.now() - lastMs) / 1000
        const before = applied.at(-1)?.speeds
        // It does at once what it is told.
        if (before && at.panDeg !== null) {
          at.panDeg += before.panDegPerSec * seconds
          at.tiltDeg += before.tiltDegPerSec * seconds
          at.zoom += before.zoomPerSec * seconds
        }
        lastMs = clock.now()
        applied.push({ speeds, refines, ms: clock.now() })
      },
    },
    clock,
  )
  const lose = () => {
    readMs = clock.now()
  }
  return { clock, steering, applied, at, lens, lose, last: () => applied.at(-1)!.speeds }
}

test('a push acts at once, is brought up to date while it is held, and a release stops in the same moment', async () => {
  const { clock, steering, applied, last } = setUp()
  steering.setPush({ ...PUSH_AT_REST, pan: 1 })
  expect(applied).toMatchObject([{ refines: false, ms: 1000 }])
  await clock.run(200)
  expect(applied.length).toBeGreaterThan(8)
  expect(applied.slice(1).every((a) => a.refines)).toBe(true)
  const before = applied.length
  steering.setPush(PUSH_AT_REST)
  expect(applied[before]).toMatchObject({ refines: false })
  expect(last()).toMatchObject({ panDegPerSec: 0, tiltDegPerSec: 0 })
  await clock.run(500)
  expect(applied).toHaveLength(before + 1)
  expect(steering.busy).toBe(false)
})

test('a push that comes just after a tick acts at once; a hand that moves all the time needs no ticks', async () => {
  const { clock, steering, applied, last } = setUp()
  steering.setPush({ ...PUSH_AT_REST, pan: 0.5 })
  while (applied.length < 3) await clock.run(1)
  await clock.run(1)
  steering.setPush({ ...PUSH_AT_REST, pan: -0.5 })
  expect(last().panDegPerSec).toBeLessThan(0)
  applied.length = 0
  for (let i = 0; i < 10; i++) {
    await clock.run(20)
    steering.setPush({ ...PUSH_AT_REST, pan: -0.5 - i / 40 })
  }
  expect(applied.filter((a) => a.refines)).toEqual([])
  expect(applied).toHaveLength(10)
})

test('a focus key during a glide leaves the glide alone, pressed and let go', async () => {
  const { clock, steering, at, lens, last } = setUp()
  const ended = jest.fn()
  const goal = lens.zoomForMagnification(6)
  steering.glideTo(goal, 2, ended)
  await clock.run(500)
  steering.setPush({ ...PUSH_AT_REST, focus: 0.6 })
  await clock.run(5)
  expect(last()).toMatchObject({ focus: 0.6 })
  expect(last().zoomPerSec).toBeGreaterThan(0)
  await clock.run(300)
  steering.setPush(PUSH_AT_REST)
  expect(last().focus).toBe(0)
  expect(last().zoomPerSec).toBeGreaterThan(0)
  await clock.run(1300)
  expect(ended).toHaveBeenCalledTimes(1)
  expect(lens.magnification(at.zoom) / 6).toBeCloseTo(1, 1)
  expect(last().zoomPerSec).toBe(0)
})

test('a hand on the zoom takes the place of a glide, which is never told to have ended', async () => {
  const { clock, steering, lens, last } = setUp()
  const ended = jest.fn()
  steering.glideTo(lens.tele, 2, ended)
  await clock.run(300)
  steering.setPush({ ...PUSH_AT_REST, zoom: -1 })
  await clock.run(100)
  expect(last().zoomPerSec).toBeLessThanOrEqual(0)
  steering.setPush(PUSH_AT_REST)
  await clock.run(3000)
  expect(ended).not.toHaveBeenCalled()
  expect(steering.busy).toBe(false)
})

test('something else that moves the camera ends every mover, and tells the device nothing', async () => {
  const { clock, steering, applied, lens } = setUp()
  const ended = jest.fn()
  steering.glideTo(lens.tele, 2, ended)
  steering.setPush({ ...PUSH_AT_REST, pan: 1 })
  await clock.run(100)
  const before = applied.length
  steering.yield()
  await clock.run(3000)
  expect(applied).toHaveLength(before)
  expect(ended).not.toHaveBeenCalled()
})

test('a finger takes the place of a stick; a stick takes the place of a finger; both end at rest', async () => {
  const { clock, steering, last } = setUp()
  steering.setPush({ ...PUSH_AT_REST, pan: 1 })
  await clock.run(100)
  expect(steering.hold(0, 0)).toBe(true)
  steering.moveFinger(0.2, 0)
  await clock.run(40)
  expect(last().panDegPerSec).toBeLessThan(0)
  steering.setPush({ ...PUSH_AT_REST, pan: 1 })
  await clock.run(40)
  expect(last().panDegPerSec).toBeGreaterThan(0)
  // What the finger still says counts no longer.
  steering.moveFinger(0.4, 0)
  await clock.run(40)
  expect(last().panDegPerSec).toBeGreaterThan(0)
  expect(steering.held).toBe(true)
  steering.setPush(PUSH_AT_REST)
  expect(steering.held).toBe(false)
})

test('the finger tells where the head must stand so that its point is where it was let go', async () => {
  const { clock, steering, at } = setUp()
  steering.hold(0, 0)
  for (let i = 1; i <= 20; i++) {
    steering.moveFinger(-0.02 * i, 0)
    await clock.run(30)
  }
  await clock.run(600)
  const target = steering.release()!
  expect(Math.abs(target.panDeg - at.panDeg!)).toBeLessThan(0.5)
  expect(target.panDeg).toBeGreaterThan(5)
})

test('where nobody knows where it stands a finger holds nothing, a glide is skipped, and a stick still drives', async () => {
  const { clock, steering, at, lens, last } = setUp()
  at.panDeg = null
  const ended = jest.fn()
  expect(steering.hold(0, 0)).toBe(false)
  steering.glideTo(lens.tele, 2, ended)
  expect(ended).toHaveBeenCalledTimes(1)
  steering.setPush({ ...PUSH_AT_REST, tilt: 0.5 })
  await clock.run(300)
  expect(last().tiltDegPerSec).toBeGreaterThan(0)
  expect(steering.standing()).toBeNull()
})

test('what a device says that it was told counts for more than what was wanted of it, until it cannot say', async () => {
  const { clock, steering, at, last } = setUp()
  const ahead = () => steering.standing(30)!.panDeg - at.panDeg!
  steering.setPush({ ...PUSH_AT_REST, pan: 1 })
  await clock.run(200)
  expect(last().panDegPerSec).toBeGreaterThan(40)
  expect(ahead()).toBeGreaterThan(1.2)
  steering.runs({ panDegPerSec: 10, tiltDegPerSec: 0 }, clock.now())
  await clock.run(100)
  expect(ahead()).toBeCloseTo(0.3, 3)
  steering.runs(null, clock.now())
  await clock.run(100)
  expect(ahead()).toBeGreaterThan(1.2)
  steering.runs({ panDegPerSec: 10, tiltDegPerSec: 0 }, clock.now())
  // The move is over, and the device was told of no stop.
  steering.setPush(PUSH_AT_REST)
  await clock.run(100)
  expect(ahead()).toBe(0)
  steering.setPush({ ...PUSH_AT_REST, pan: 1 })
  steering.runs({ panDegPerSec: 10, tiltDegPerSec: 0 }, clock.now())
  // Something else moves it: what it was told counts no longer.
  steering.yield()
  await clock.run(100)
  expect(ahead()).toBe(0)
})

test('as it zooms into its end by an order of its own it is not taken to go on beyond it', async () => {
  const { clock, steering, at, lens } = setUp()
  for (const share of [0.9, 0.95, 1]) {
    at.zoom = lens.wide + (lens.tele - lens.wide) * share
    steering.see()
    await clock.run(100)
  }
  const motion = steering.motion()
  expect(motion?.at.zoom).toBe(lens.tele)
  expect(motion?.speeds.zoomPerSec).toBe(0)
})

test('an old reading is good for a plan only of a camera that stood still and was told nothing since', async () => {
  const { clock, steering, lose } = setUp()
  const stands = async () => {
    for (let i = 0; i < 3; i++) {
      steering.see()
      await clock.run(100)
    }
  }
  await stands()
  lose()
  await clock.run(3000)
  expect(steering.motion()).not.toBeNull()
  // Another order moves it now, and nothing tells where.
  steering.yield()
  expect(steering.motion()).toBeNull()
})
