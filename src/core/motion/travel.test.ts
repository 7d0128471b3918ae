import fc from 'fast-check'
import { HEAD_PROFILES } from '../heads/registry'
import { stepForSeconds, travelSeconds } from './travel'

const profile = fc.constantFrom(...HEAD_PROFILES)
const share = fc.double({ min: -1, max: 1, noNaN: true })

test('a longer way takes longer, a faster axis is sooner there, and both ways take the same', () => {
  const positive = fc.double({ min: 0.01, max: 300, noNaN: true })
  fc.assert(
    fc.property(positive, positive, positive, (distance, speed, accel) => {
      const seconds = travelSeconds(distance, speed, accel)
      expect(travelSeconds(-distance, speed, accel)).toBe(seconds)
      expect(travelSeconds(distance * 1.1, speed, accel)).toBeGreaterThan(seconds)
      expect(travelSeconds(distance, speed * 1.1, accel)).toBeLessThanOrEqual(seconds * (1 + 1e-12))
      // It can be no quicker than at its speed all the way, nor than with its acceleration alone.
      expect(seconds).toBeGreaterThanOrEqual(distance / speed)
      expect(seconds).toBeGreaterThanOrEqual(2 * Math.sqrt(distance / accel) * (1 - 1e-12))
    }),
  )
})

test('timed, pan and tilt of every head end as near to the time as its steps allow', () => {
  fc.assert(
    fc.property(
      profile,
      share,
      share,
      fc.double({ min: 0.5, max: 60, noNaN: true }),
      (head, p, t, seconds) => {
        const [panDeg, tiltDeg] = [p * head.pan.maxDeg, t * head.tilt.maxDeg]
        for (const [axis, deg] of [
          [head.pan, panDeg],
          [head.tilt, tiltDeg],
        ] as const) {
          const step = stepForSeconds(deg, seconds, axis)
          const takes = (n: number) => travelSeconds(deg, axis.speedsDegPerSec[n - 1]!, axis.accelDegPerSec2)
          const off = Math.abs(takes(step) - seconds)
          if (step > 1) expect(off).toBeLessThanOrEqual(Math.abs(takes(step - 1) - seconds))
          if (step < axis.speedsDegPerSec.length)
            expect(off).toBeLessThanOrEqual(Math.abs(takes(step + 1) - seconds))
          // Within the range of its steps it is never off by more than half of what lies between two.
          const gap = Math.max(
            step > 1 ? takes(step - 1) - takes(step) : 0,
            step < axis.speedsDegPerSec.length ? takes(step) - takes(step + 1) : 0,
          )
          const [longest, shortest] = [takes(1), takes(axis.speedsDegPerSec.length)]
          if (seconds <= longest && seconds >= shortest) expect(off).toBeLessThanOrEqual(gap / 2 + 1e-9)
        }
      },
    ),
  )
})
