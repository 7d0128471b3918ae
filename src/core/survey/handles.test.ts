import { headProfile } from '../heads/registry'
import { createLens, vfovOf } from '../optics/lens'
import { sightOf } from '../optics/sight'
import { panTiltOf, rayAt } from '../optics/sphere'
import { seeded } from '../seeded'
import { NO_LIMITS } from '../stick/speeds'
import { movedTo, sizedTo } from './handles'

const profile = headProfile('common-20x')
const lens = createLens(profile.lens)
const mount = { upsideDown: false, mirrored: false }
const sight = sightOf({ profile, lens, mount, limits: { ...NO_LIMITS, panMaxDeg: 40 }, digital: false })
const { aspect } = profile.lens

test('a frame goes where it is moved to, and no further than the head', () => {
  const framing = { panDeg: 10, tiltDeg: -5, hfovDeg: 20 }
  expect(movedTo(framing, { panDeg: -12, tiltDeg: 3 }, sight)).toEqual({
    panDeg: -12,
    tiltDeg: 3,
    hfovDeg: 20,
  })
  expect(movedTo(framing, { panDeg: 372, tiltDeg: 3 }, sight).panDeg).toBe(12)
  expect(movedTo(framing, { panDeg: 60, tiltDeg: -200 }, sight)).toMatchObject({
    panDeg: 40,
    tiltDeg: sight.seen.tilt.minDeg,
  })
})

test('its corner follows the hand at all tilts, as far as the lens goes', () => {
  const random = seeded(4)
  for (let i = 0; i < 200; i++) {
    const framing = { panDeg: 60 * random() - 30, tiltDeg: 80 * random() - 50, hfovDeg: 30 }
    const wanted = 5 + 45 * random()
    const view = { ...framing, hfovDeg: wanted, vfovDeg: vfovOf(wanted, aspect) }
    const sized = sizedTo(framing, panTiltOf(rayAt(view, 1, -1)), aspect, sight)
    expect(sized.hfovDeg).toBeCloseTo(wanted, 6)
  }
  const here = { panDeg: 0, tiltDeg: 0, hfovDeg: 30 }
  expect(sizedTo(here, { panDeg: 80, tiltDeg: -60 }, aspect, sight).hfovDeg).toBeCloseTo(
    lens.hfovDeg(lens.wide),
  )
  expect(sizedTo(here, { panDeg: 0.01, tiltDeg: 0 }, aspect, sight).hfovDeg).toBeCloseTo(
    lens.hfovDeg(lens.tele),
  )
  expect(sizedTo(here, { panDeg: 180, tiltDeg: 0 }, aspect, sight)).toEqual(here)
})
