/** What is told on the picture becomes a pose: what the head is told is looked through again. */

import fc from 'fast-check'
import type { Mount } from '../../core/cameras/connection'
import { turnedPose } from '../../core/cameras/mount'
import { headProfile } from '../../core/heads/registry'
import { createLens } from '../../core/optics/lens'
import { sightOf } from '../../core/optics/sight'
import { pointOf, rayAt, type View } from '../../core/optics/sphere'
import { AS_USUAL } from '../../core/orders/entries'
import { boundsOf, type Limits, NO_LIMITS } from '../../core/stick/speeds'
import type { Goal } from './body'
import { PictureMoves } from './pictureMoves'
import { HandClock } from './testing/handClock'

const profile = headProfile('marsh-20x')
const lens = createLens(profile.lens)
const number = (min: number, max: number) => fc.double({ min, max, noNaN: true })
const mount = fc.record({ upsideDown: fc.boolean(), mirrored: fc.boolean() })
const UPRIGHT = { upsideDown: false, mirrored: false }

const TIMED = { ...AS_USUAL, pace: { kind: 'timed', seconds: 4 } } as const

interface World {
  head: { panDeg: number; tiltDeg: number } | null
  zoom: number
  hung?: Mount
  limits?: Limits
  apart?: boolean
}

function setUp({ head, zoom, hung = UPRIGHT, limits = NO_LIMITS, apart = true }: World) {
  const told = { goals: [] as Goal[], glides: [] as number[], notices: [] as string[], takeOvers: 0 }
  const at = { head, zoom }
  const clock = new HandClock()
  const view = (): View | null =>
    at.head && {
      ...turnedPose(at.head, hung),
      hfovDeg: lens.hfovDeg(at.zoom),
      vfovDeg: lens.vfovDeg(at.zoom),
    }
  const moves = new PictureMoves(
    {
      ...{ profile, view },
      zoom: () => at.zoom,
      sight: () => sightOf({ profile, lens, mount: hung, limits, digital: false }),
      zoomsApart: () => apart,
      motion: () => at.head && { at: { ...at.head, zoom: at.zoom } },
      // A camera that cannot follow a plan.
      followed: { plan: () => null, start: () => ({ ok: true }) },
      takeOver: () => {
        told.takeOvers += 1
      },
      glideTo: (to, _seconds, end) => {
        told.glides.push(to)
        end()
      },
      travelTo: async (goal) => {
        told.goals.push(goal)
        if (goal.panDeg !== undefined) at.head = { panDeg: goal.panDeg, tiltDeg: goal.tiltDeg! }
        if (goal.zoom !== undefined) at.zoom = goal.zoom
        return { ok: true }
      },
      notice: (text) => void told.notices.push(text),
    },
    clock,
  )
  return { moves, told, view, clock }
}

test('the point that was touched is in the middle, however the camera hangs, and within the range of the head', () =>
  fc.assert(
    fc.asyncProperty(
      number(-0.9, 0.9),
      number(-0.9, 0.9),
      number(0, 16384),
      mount,
      async (u, v, zoom, hung) => {
        const { moves, told, view } = setUp({
          head: turnedPose({ panDeg: 20, tiltDeg: 20 }, hung),
          zoom,
          hung,
        })
        const target = rayAt(view()!, u, v)
        await moves.aim(u, v, AS_USUAL)
        const { pan, tilt } = boundsOf(profile, NO_LIMITS, false)
        const { panDeg, tiltDeg } = told.goals[0]!
        expect(panDeg! >= pan.min && panDeg! <= pan.max && tiltDeg! >= tilt.min && tiltDeg! <= tilt.max).toBe(
          true,
        )
        if (told.notices.length > 0) return
        const seen = pointOf(view()!, target)!
        expect(Math.hypot(seen.u, seen.v)).toBeLessThan(1e-6)
      },
    ),
  ))

test('a wheel turned notch by notch goes on from where it leads, about the same point', async () => {
  const { moves, told, view, clock } = setUp({ head: { panDeg: 5, tiltDeg: -10 }, zoom: 3000 })
  const [u, v] = [0.5, -0.4]
  const from = view()!
  const target = rayAt(from, u, v)
  // Before the head has moved at all: all notches in the same moment.
  await Promise.all([1, 2, 3].map(() => moves.zoomAbout(u, v, 1.25, AS_USUAL)))
  expect(told.goals).toHaveLength(3)
  const after = view()!
  const share = (deg: number) => Math.tan((deg * Math.PI) / 360)
  expect(share(from.hfovDeg) / share(after.hfovDeg)).toBeCloseTo(1.25 ** 3, 3)
  const seen = pointOf(after, target)!
  expect(Math.hypot(seen.u - u, seen.v - v)).toBeLessThan(1e-6)
  // A notch much later starts again from where the camera stands.
  await clock.run(2000)
  await moves.zoomAbout(0, 0, 1 / 1.25, AS_USUAL)
  expect(share(from.hfovDeg) / share(view()!.hfovDeg)).toBeCloseTo(1.25 ** 2, 3)
})

test('beyond its limits it goes as far as they allow, and says so', async () => {
  const limits = { ...NO_LIMITS, panMaxDeg: 10 }
  const { moves, told } = setUp({ head: { panDeg: 8, tiltDeg: 0 }, zoom: 0, limits })
  await moves.aim(0.8, 0, AS_USUAL)
  expect(told.goals[0]!.panDeg).toBe(10)
  expect(told.notices).toEqual([expect.stringMatching(/as far as its limits/)])
})

test('timed, a frame zooms evenly where the lens is driven apart, else with the head; each takes over', async () => {
  const box = { u0: -0.3, v0: -0.3, u1: 0.3, v1: 0.3 }
  const head = { panDeg: 0, tiltDeg: 0 }
  const apart = setUp({ head, zoom: 0 })
  await apart.moves.frame(box, TIMED)
  expect(apart.told.glides).toHaveLength(1)
  expect(apart.told.goals.find((g) => g.panDeg !== undefined)).toMatchObject({ seconds: 4 })
  expect(apart.told.goals.find((g) => g.panDeg !== undefined)).not.toHaveProperty('zoom')
  const whole = setUp({ head, zoom: 0, apart: false })
  await whole.moves.frame(box, TIMED)
  expect(whole.told.goals).toEqual([expect.objectContaining({ seconds: 4, zoom: expect.any(Number) })])
  expect([apart.told.takeOvers, whole.told.takeOvers]).toEqual([1, 1])
})

test('where it is not known where the camera stands, nothing is sent and that is said', async () => {
  const { moves, told } = setUp({ head: null, zoom: 0 })
  for (const result of [
    await moves.aim(0.2, 0, AS_USUAL),
    await moves.nudge(0.1, 0, AS_USUAL),
    await moves.zoomAbout(0, 0, 1.2, AS_USUAL),
    await moves.frame({ u0: -0.1, v0: -0.1, u1: 0.1, v1: 0.1 }, AS_USUAL),
  ])
    expect(result).toMatchObject({ ok: false, message: expect.stringMatching(/not known where/) })
  expect([told.goals, told.takeOvers]).toEqual([[], 0])
})
