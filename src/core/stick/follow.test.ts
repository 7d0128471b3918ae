/** A finger that drags the picture of a head which obeys late, in virtual time. */
import { pointOf, rayAt, type View } from '../optics/sphere'
import { FollowHand } from './follow'

const TICK_MS = 20
const OBEYS_AFTER_MS = 40
const FOV = { hfovDeg: 40, vfovDeg: 23.2 }

/** Share of the picture's width by which the held point is off the finger, over a drag. */
function drag(finger: (s: number) => { u: number; v: number }, seconds: number, stopsAfter = seconds) {
  const view: View = { panDeg: 10, tiltDeg: -15, ...FOV }
  const start = finger(0)
  const held = rayAt(view, start.u, start.v)
  const follow = new FollowHand(view, start.u, start.v)
  const orders: { atMs: number; pan: number; tilt: number }[] = []
  const offs: number[] = []
  for (let ms = 0; ms <= seconds * 1000; ms += TICK_MS) {
    const at = finger(Math.min(stopsAfter, ms / 1000))
    if (ms <= stopsAfter * 1000) follow.move(at.u, at.v, FOV, view, ms)
    const { panDegPerSec, tiltDegPerSec } = follow.speeds(view, FOV, ms)
    orders.push({ atMs: ms + OBEYS_AFTER_MS, pan: panDegPerSec, tilt: tiltDegPerSec })
    const obeyed = orders.filter((o) => o.atMs <= ms).at(-1)
    view.panDeg += ((obeyed?.pan ?? 0) * TICK_MS) / 1000
    view.tiltDeg += ((obeyed?.tilt ?? 0) * TICK_MS) / 1000
    const seen = pointOf(view, held)!
    offs.push(Math.hypot((seen.u - at.u) / 2, ((seen.v - at.v) / 2) * (9 / 16)))
  }
  return offs
}

test('the point stays under a finger that drags at up to 20 degrees a second', () => {
  // 20 degrees a second where it is fastest, there and back.
  const offs = drag((s) => ({ u: -0.2 + 0.8 * Math.sin(1.25 * s), v: 0.1 + 0.3 * Math.sin(1.25 * s) }), 3)
  expect(Math.max(...offs.slice(13))).toBeLessThan(0.03)
})

test('when the finger rests the head comes to rest there, and does not swing beyond', () => {
  const offs = drag((s) => ({ u: 0.5 * s, v: 0 }), 3, 1)
  expect(offs.at(-1)).toBeLessThan(0.001)
  // From when it rests on, what is off only falls.
  const after = offs.slice(Math.ceil(1150 / TICK_MS))
  for (let i = 5; i < after.length; i++) expect(after[i]!).toBeLessThanOrEqual(after[i - 5]! + 1e-4)
})
