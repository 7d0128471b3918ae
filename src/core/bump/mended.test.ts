import { opened } from '../heads/profile'
import { headProfile } from '../heads/registry'
import { createLens } from '../optics/lens'
import { sightOf } from '../optics/sight'
import { angleBetweenDeg } from '../optics/sphere'
import { seeded } from '../seeded'
import { NO_LIMITS } from '../stick/speeds'
import { turnedPlace } from './bump'
import { mendedLimits, mendedPlace, mendedPose } from './mended'

const profile = headProfile('common-20x')
const lens = createLens(profile.lens)
const UPRIGHT = { upsideDown: false, mirrored: false }
const HANGING = { upsideDown: true, mirrored: false }
const sight = (mount = UPRIGHT, limits = NO_LIMITS, of = profile) =>
  sightOf({ profile: of, lens, mount, limits, digital: false })
const BUMP = { panDeg: 7, tiltDeg: -3, rollDeg: 2, larger: 1.2 }
const POSE = {
  panDeg: 20,
  tiltDeg: -10,
  zoom: 4000,
  focusAuto: null,
  focus: 77,
  encoder: { pan: 100, tilt: -50 },
}

test.each([UPRIGHT, HANGING])('a preset looks where what it showed is now: %o', (mount) => {
  const { turned } = sight(mount)
  const random = seeded(5)
  for (let i = 0; i < 50; i++) {
    const pose = { ...POSE, panDeg: 200 * random() - 100, tiltDeg: 50 * random() - 30 }
    const now = mendedPose(pose, BUMP, profile, sight(mount), false)
    const wanted = turnedPlace(turned(pose), BUMP)
    expect(angleBetweenDeg(turned({ panDeg: now.panDeg!, tiltDeg: now.tiltDeg! }), wanted)).toBeLessThan(1e-9)
    expect([now.zoom, now.focus]).toEqual([4000, 77])
    // By the shorter way round, and as the head counts too.
    expect(Math.abs(now.panDeg! - pose.panDeg)).toBeLessThan(20)
    expect(Math.abs(now.encoder!.pan - 100)).toBeCloseTo(
      Math.abs(Math.round((now.panDeg! - pose.panDeg) * profile.pan.unitsPerDeg)),
    )
  }
})

test('where the lens shows another size, a preset is zoomed as large as it was, on request', () => {
  const { zoom } = mendedPose(POSE, BUMP, profile, sight(), true)
  const half = (z: number) => Math.tan((lens.hfovDeg(z) * Math.PI) / 360)
  // Everything is 1.2 times as large at the same zoom.
  expect(half(zoom!) / 1.2).toBeCloseTo(half(4000), 6)
  const unknown = { ...POSE, panDeg: null, tiltDeg: null }
  expect(mendedPose(unknown, BUMP, profile, sight(), true)).toEqual(unknown)
})

test('limits go along; an edge that was not set is not set; of a head without known ends too', () => {
  const limits = { panMinDeg: -30, panMaxDeg: 40, tiltMinDeg: null, tiltMaxDeg: 10 }
  for (const of of [profile, opened(profile)]) {
    const pure = { panDeg: 7, tiltDeg: 0, rollDeg: 0, larger: 1 }
    const now = mendedLimits(limits, pure, sight(UPRIGHT, limits, of))
    expect(now.panMinDeg).toBeCloseTo(-23)
    expect(now.panMaxDeg).toBeCloseTo(47)
    expect(now.tiltMinDeg).toBeNull()
    expect(now.tiltMaxDeg).toBeCloseTo(10)
  }
  expect(
    mendedPlace({ panDeg: 178, tiltDeg: 0 }, { panDeg: 7, tiltDeg: 0, rollDeg: 0, larger: 1 }).panDeg,
  ).toBeCloseTo(185)
})
