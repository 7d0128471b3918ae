import { laidBy, spread } from './planned'
import type { RoomSolved } from './room'

const SOLVED: RoomSolved = {
  measured: true,
  cameras: [{ cameraId: 'a', at: [2, 3, 1], headingDeg: 0, pitchDeg: 0, rollDeg: 0, sigma: null }],
  points: [{ pointId: 'p', at: [2, 1, 9] }],
  ...{ off: [], left: [] },
}

test('a drawing holds all places, ahead is up, and leads back', () => {
  const drawing = spread([
    { x: -3, z: 0 },
    { x: 5, z: 4 },
  ])
  expect(Math.max(drawing.width, drawing.height)).toBeCloseTo(1200)
  const [a, b] = [drawing.toPx(-3, 0), drawing.toPx(5, 4)]
  expect(b.x).toBeGreaterThan(a.x)
  expect(b.y).toBeLessThan(a.y)
  for (const { x, y } of [a, b]) {
    expect(x).toBeGreaterThan(50)
    expect(y).toBeGreaterThan(50)
    expect(x).toBeLessThan(drawing.width - 50)
    expect(y).toBeLessThan(drawing.height - 50)
  }
  expect(drawing.toRoom(b).x).toBeCloseTo(5)
  expect(drawing.toRoom(b).z).toBeCloseTo(4)
})

test('two pins lay the picture: what is above on it is a quarter turn away in the room here', () => {
  const picture = { tag: '', width: 400, height: 200 }
  const pins = [
    // From the camera the point is 8 m ahead; on the picture it is to the right of it, half a width away.
    { spot: { kind: 'camera' as const, id: 'a' }, u: 0.25, v: 0.5 },
    { spot: { kind: 'point' as const, id: 'p' }, u: 0.75, v: 0.5 },
  ]
  const laid = laidBy({ pins }, SOLVED, picture)!
  expect(laid({ u: 0.25, v: 0.5 })).toEqual({ x: 2, z: 1 })
  const up = laid({ u: 0.25, v: 0 })
  // 100 px up, of 200 px that are 8 m: to the left of the way ahead.
  expect(up.x).toBeCloseTo(2 - 4)
  expect(up.z).toBeCloseTo(1)
  expect(laidBy({ pins: pins.slice(0, 1) }, SOLVED, picture)).toBeNull()
  expect(laidBy({ pins }, null, picture)).toBeNull()
  expect(
    laidBy({ pins: [pins[0]!, { ...pins[1]!, spot: { kind: 'point', id: 'gone' } }] }, SOLVED, picture),
  ).toBeNull()
})
