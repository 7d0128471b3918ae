import fc from 'fast-check'
import { UPRIGHT } from '../cameras/connection'
import { HEAD_PROFILES, headProfile } from '../heads/registry'
import { createLens } from '../optics/lens'
import { sightOf } from '../optics/sight'
import { FollowHand } from '../stick/follow'
import { NO_LIMITS, type Standing } from '../stick/speeds'
import { FingerHold, FocusPush, StepRun, TurnPush, ZoomGlide, ZoomPush } from './movers'
import { evenly } from './trajectory'

const profile = headProfile('marsh-20x')
const lens = createLens(profile.lens)
const AT: Standing = { panDeg: 0, tiltDeg: 0, zoom: lens.wide }
const share = fc.double({ min: -1, max: 1, noNaN: true })

test('a trajectory begins and ends at rest, and between runs at one speed', () => {
  const path = evenly(2, 5, 3)
  expect([path.at(-1), path.at(0), path.at(1.5), path.at(3), path.at(9)]).toEqual([
    { position: 2, velocity: 0 },
    { position: 2, velocity: 1 },
    { position: 3.5, velocity: 1 },
    { position: 5, velocity: 0 },
    { position: 5, velocity: 0 },
  ])
})

test('a push keeps its direction while it takes hold, never runs backwards, and reaches what was asked', () => {
  fc.assert(
    fc.property(fc.constantFrom(...HEAD_PROFILES), share, share, (head, pan, tilt) => {
      fc.pre(Math.hypot(pan, tilt) > 0.05)
      const mover = new TurnPush(head, createLens(head.lens), { pan, tilt })
      const at = { ...AT, zoom: createLens(head.lens).wide }
      let before = 0
      for (let ms = 0; ms <= 600; ms += 20) {
        const { panDegPerSec = 0, tiltDegPerSec = 0 } = mover.velocity(ms, at)
        const along = panDegPerSec * pan + tiltDegPerSec * tilt
        expect(along).toBeGreaterThanOrEqual(before - 1e-9)
        before = along
      }
      const settled = mover.velocity(620, at)
      const again = mover.velocity(640, at)
      expect(again).toEqual(settled)
    }),
  )
})

test('a stall between two steps does not make a push jump to full', () => {
  const mover = new ZoomPush(profile, lens, 1)
  const first = mover.velocity(0, AT).zoomPerSec!
  const late = mover.velocity(5000, AT).zoomPerSec!
  const full = new ZoomPush(profile, lens, 1)
  for (let ms = 0; ms < 1000; ms += 20) full.velocity(ms, AT)
  expect(first).toBeGreaterThan(0)
  expect(late).toBeLessThan(full.velocity(1000, AT).zoomPerSec!)
})

test('a hand that is turned round starts again on the other side at once', () => {
  const mover = new TurnPush(profile, lens, { pan: 1, tilt: 0 })
  for (let ms = 0; ms < 400; ms += 20) mover.velocity(ms, AT)
  mover.push = { pan: -1, tilt: 0 }
  expect(mover.velocity(400, AT).panDegPerSec).toBeLessThan(0)
})

test('a glide is even to the eye: the focal length doubles in equal times, whatever the zoom curve', () => {
  const [from, to] = [lens.wide, lens.zoomForMagnification(8)]
  const glide = new ZoomGlide(lens, from, to, 3, 1000)
  let zoom = from
  const reached: number[] = []
  for (let ms = 1000; ms < 4000; ms += 10) {
    const own = glide.velocity(ms, { ...AT, zoom })
    zoom += own!.zoomPerSec! * 0.01
    if ((ms - 1000) % 1000 === 990) reached.push(lens.magnification(zoom))
  }
  expect(reached[0]).toBeCloseTo(2, 1)
  expect(reached[1]).toBeCloseTo(4, 1)
  expect(reached[2]).toBeCloseTo(8, 0)
  expect(glide.velocity(4000, { ...AT, zoom })).toBeNull()
})

test('a glide makes good what the head is behind, and says nothing while nobody knows where it stands', () => {
  const glide = new ZoomGlide(lens, lens.wide, lens.tele, 4, 0)
  const onTime = glide.velocity(2000, {
    ...AT,
    zoom: lens.zoomForMagnification(Math.sqrt(lens.magnification(lens.tele))),
  })
  const behind = glide.velocity(2000, AT)
  expect(behind!.zoomPerSec).toBeGreaterThan(onTime!.zoomPerSec!)
  expect(glide.velocity(2000, null)).toEqual({ zoomPerSec: 0 })
})

test('a finger turns the head towards where its point is, as the camera hangs', () => {
  for (const upsideDown of [false, true]) {
    const mount = { ...UPRIGHT, upsideDown }
    const sight = sightOf({ profile, lens, mount, limits: NO_LIMITS, digital: false })
    const view = sight.view(AT)
    const finger = new FingerHold(new FollowHand(view, 0, 0), sight.view, mount)
    // The point is dragged to the right, so the camera turns to the left.
    finger.follow.move(0.3, 0, view, view, 0)
    const speed = finger.velocity(0, AT).panDegPerSec!
    expect(Math.sign(speed)).toBe(upsideDown ? 1 : -1)
    expect(finger.velocity(0, null)).toEqual({ panDegPerSec: 0, tiltDegPerSec: 0 })
  }
})

test('only what a hand moves ends with the hand', () => {
  expect(new TurnPush(profile, lens, { pan: 1, tilt: 0 }).byHand).toBe(true)
  expect(new FocusPush(0.5).byHand).toBe(true)
  expect(new ZoomGlide(lens, 0, 1, 1, 0).byHand).toBe(false)
})

test('a run by the head’s own steps ends with its time, and before a limit', () => {
  const bounds = { pan: { min: -30, max: 30 }, tilt: { min: -20, max: 20 }, zoomMax: 1 }
  const run = new StepRun({ panDegPerSec: 20, tiltDegPerSec: -5 }, 2000, bounds)
  expect(run.velocity(0, AT)).toEqual({ panDegPerSec: 20, tiltDegPerSec: -5 })
  // What is told takes effect late, so that it is stopped in time; the other axis goes on.
  expect(run.velocity(500, { ...AT, panDeg: 25 })).toEqual({ panDegPerSec: 0, tiltDegPerSec: -5 })
  expect(run.velocity(600, { ...AT, tiltDeg: -19 })).toEqual({ panDegPerSec: 20, tiltDegPerSec: 0 })
  expect(run.velocity(700, null)).toEqual({ panDegPerSec: 20, tiltDegPerSec: -5 })
  expect(run.velocity(2000, AT)).toBeNull()
  expect(run.byHand).toBe(false)
})
