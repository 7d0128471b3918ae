import type { Shot } from '../scene/render'
import { Sight } from './sight'

const SHOT: Shot = {
  eye: [0, 3, 7],
  yawDeg: 0,
  panDeg: 0,
  tiltDeg: 0,
  hfovDeg: 60,
  blurPx: 0,
  atS: 0,
  power: true,
}

test('redrawn when the camera sees something else; else now and then, as people move', async () => {
  let nowMs = 0
  let drawn = 0
  let shot = SHOT
  const renderer = { draw: async () => Uint8Array.of(++drawn) }
  const sight = new Sight(
    renderer,
    () => [{ ...shot, atS: nowMs / 1000 }],
    { width: 480, height: 270 },
    () => nowMs,
  )
  const look = async (atMs: number) => {
    nowMs = atMs
    return (await sight.draw())[0]
  }
  expect([await look(0), await look(100), await look(320)]).toEqual([1, 1, 1])
  expect(await look(340)).toBe(2)
  for (const change of [{ panDeg: 0.01 }, { blurPx: 2 }, { power: false }]) {
    shot = { ...SHOT, ...change }
    const before = drawn
    expect(await look(nowMs + 20)).toBe(before + 1)
    expect(await look(nowMs + 20)).toBe(before + 1)
  }
})
