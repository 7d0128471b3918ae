import type { RoomSolved, RoomView } from '../../../core/room/room'
import { seenOf } from './roomSeen'
import { roomSays, worstOf } from './says'

const CAMERAS = [
  { id: 'a', number: 1 },
  { id: 'b', number: 2 },
  { id: 'c', number: 3 },
]
const placed = (cameraId: string, x: number, sigma: number | null) => ({
  ...{ cameraId, at: [x, 3, 0] as [number, number, number], sigma },
  ...{ headingDeg: 0, pitchDeg: 0, rollDeg: 0 },
})
const SOLVED: RoomSolved = {
  measured: true,
  cameras: [placed('a', 0, null), placed('b', 8, 0.1)],
  points: [{ pointId: 'p', at: [4, 1, 9] }],
  off: [
    { pointId: 'p', cameraId: 'a', deg: 0.2 },
    { pointId: 'p', cameraId: 'b', deg: 0.3 },
    { pointId: 'q', cameraId: 'b', deg: 0.4 },
  ],
  left: [],
}
const room = (solved: RoomSolved | null) => {
  const view: RoomView = { version: 1, points: [], length: null, pins: [], placed: [], solved, picture: null }
  return seenOf(view)
}

test('who is placed, how well, who is not, and what is missing', () => {
  expect(roomSays(room(null), CAMERAS)).toMatch(/Nobody knows yet/)
  expect(roomSays(room(SOLVED), CAMERAS)).toBe('Placed: cameras 1, 2. Touches fit within 0.3°.')
  const more = { ...SOLVED, measured: false, left: [{ cameraId: 'c', shares: 3 }] }
  expect(roomSays(room(more), CAMERAS)).toMatch(/Camera 3 shares 3 points.*4 are needed.*Sizes are unknown/)
  expect(worstOf(room(SOLVED))).toBeNull()
})

test('what is not to be believed is neither drawn nor offered; the touch that does not fit is still named', () => {
  const unsure = room({ ...SOLVED, cameras: [placed('a', 0, null), placed('b', 8, 5)] })
  expect(unsure.solved).toBeNull()
  expect(roomSays(unsure, CAMERAS)).toMatch(/^△ These touches do not tell/)
  const off = SOLVED.off.map((one) => ({ ...one, deg: 20 * one.deg }))
  const wrong = room({ ...SOLVED, off })
  expect(wrong.solved).toBeNull()
  expect(worstOf(wrong)).toMatchObject({ pointId: 'q', cameraId: 'b' })
})
