import fc from 'fast-check'
import { HEAD_PROFILES } from '../heads/registry'
import { NO_LIMITS } from '../stick/speeds'
import { createLens } from './lens'
import { sightOf } from './sight'

const mount = fc.record({ upsideDown: fc.boolean(), mirrored: fc.boolean() })

test('what lies within the limits of the head lies within the ends that the operator sees, and comes back', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(...HEAD_PROFILES),
      mount,
      fc.double({ min: 0, max: 1, noNaN: true }),
      fc.double({ min: 0, max: 1, noNaN: true }),
      (profile, hung, p, t) => {
        const limits = { ...NO_LIMITS, panMinDeg: -20, tiltMaxDeg: 15 }
        const lens = createLens(profile.lens)
        const sight = sightOf({ profile, lens, mount: hung, limits, digital: false })
        const { pan, tilt } = sight.bounds
        const pose = {
          panDeg: pan.min + p * (pan.max - pan.min),
          tiltDeg: tilt.min + t * (tilt.max - tilt.min),
          zoom: lens.wide,
        }
        const { seen } = sight
        const at = sight.turned(pose)
        expect(at.panDeg).toBeGreaterThanOrEqual(seen.pan.minDeg - 1e-9)
        expect(at.panDeg).toBeLessThanOrEqual(seen.pan.maxDeg + 1e-9)
        expect(at.tiltDeg).toBeGreaterThanOrEqual(seen.tilt.minDeg - 1e-9)
        expect(at.tiltDeg).toBeLessThanOrEqual(seen.tilt.maxDeg + 1e-9)
        expect(sight.turned(at)).toEqual(pose)
        expect(sight.view(pose)).toMatchObject({ panDeg: at.panDeg, hfovDeg: lens.hfovDeg(lens.wide) })
      },
    ),
  )
})
