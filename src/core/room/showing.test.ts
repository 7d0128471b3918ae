import { headProfile } from '../heads/registry'
import { createLens } from '../optics/lens'
import { sightOf } from '../optics/sight'
import { NO_LIMITS } from '../stick/speeds'
import type { PlacedCamera } from './room'
import { hfovFor, whoShows } from './showing'

const profile = headProfile('common-20x')
const lens = createLens(profile.lens)
const mount = { upsideDown: false, mirrored: false }
const sight = (limits = NO_LIMITS) => sightOf({ profile, lens, mount, limits, digital: false })
const placed = (cameraId: string, at: [number, number, number], headingDeg: number): PlacedCamera => ({
  ...{ cameraId, at, headingDeg, pitchDeg: 0, rollDeg: 0, sigma: null },
})

/** All look at a place 10 m ahead of the first: from there, from the left, and from far behind. */
const ALL = [
  { placed: placed('front', [0, 1, 0], 0), sight: sight() },
  { placed: placed('left', [-10, 1, 10], 90), sight: sight() },
  { placed: placed('behind', [0, 11, 40], 180), sight: sight() },
  { placed: placed('held', [5, 1, 10], -90), sight: sight({ ...NO_LIMITS, panMinDeg: 20 }) },
]
const PLACE = [0, 1, 10] as const

test('by angle: against the chosen camera, to which side and how far from above; who cannot reach it comes last', () => {
  const shown = whoShows(PLACE, ALL, 'front', 'angle')
  expect(shown.map(({ cameraId }) => cameraId)).toEqual(['front', 'left', 'behind', 'held'])
  const [front, left, behind, held] = shown
  expect(front).toMatchObject({ asideDeg: 0, aboveDeg: 0, within: true })
  expect(front!.panDeg).toBeCloseTo(0)
  // Positive: to the left of who looks from the front.
  expect(left!.asideDeg).toBeCloseTo(90)
  expect(left!.panDeg).toBeCloseTo(0)
  expect(Math.abs(behind!.asideDeg)).toBeCloseTo(180)
  expect(behind!.aboveDeg).toBeCloseTo((Math.atan(10 / 30) * 180) / Math.PI)
  expect(behind!.tiltDeg).toBeCloseTo(-behind!.aboveDeg)
  expect(held!.within).toBe(false)
  expect(whoShows(PLACE, ALL, 'left', 'angle')[0]!.cameraId).toBe('left')
})

test('by size: who can show it largest comes first; as wide as asked, as far as the lens goes', () => {
  const shown = whoShows(PLACE, ALL, null, 'size').filter(({ within }) => within)
  const widths = shown.map(({ narrowest }) => narrowest)
  expect(widths).toEqual([...widths].sort((a, b) => a - b))
  expect(shown.at(-1)!.cameraId).toBe('behind')
  const [near] = shown
  const hfovDeg = hfovFor(near!, 3, sight())
  expect(2 * near!.away * Math.tan((hfovDeg * Math.PI) / 360)).toBeCloseTo(3)
  expect(hfovFor(near!, 1000, sight())).toBe(lens.hfovDeg(lens.wide))
  expect(hfovFor(near!, 0.001, sight())).toBe(lens.hfovDeg(lens.tele))
})
