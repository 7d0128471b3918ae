import fc from 'fast-check'
import { HEADER, PLACES_BELOW, PLACES_BESIDE, SLIM_HEADER, STRIP } from '../theme/rooms'
import { arrange } from './arrangement'

const ROOM = { across: 68, below: 34 }
const kindAt = (width: number, height: number) => arrange(width, height, ROOM, false).kind

test.each([
  [320, 640, 'upright'],
  [390, 844, 'upright'],
  [844, 390, 'low'],
  [820, 1180, 'tablet'],
  [1180, 820, 'columns'],
  [1280, 800, 'columns'],
  [1280, 320, 'low'],
  [1920, 1080, 'columns'],
  [1024, 768, 'columns'],
] as const)('%i by %i is arranged as %s', (width, height, kind) => {
  expect(kindAt(width, height)).toBe(kind)
})

const sides = (max: number) => fc.integer({ min: 320, max })

test('at every size from 320 on the blocks fit beside and below each other, and the presets have room', () => {
  fc.assert(
    fc.property(sides(2600), sides(1600), fc.boolean(), (width, height, switches) => {
      const plan = arrange(width, height, ROOM, switches)
      const stage = {
        width: plan.pictureWidth + ROOM.across,
        height: (plan.pictureWidth * 9) / 16 + ROOM.below,
      }
      expect(stage.width).toBeLessThanOrEqual(width)
      expect(plan.pad).toBeGreaterThanOrEqual(120)
      if (plan.kind === 'columns') {
        expect(plan.rail + plan.side + stage.width).toBeLessThanOrEqual(width)
        expect(HEADER + stage.height + plan.pad + 16).toBeLessThanOrEqual(height)
      }
      if (plan.kind === 'low' && height >= 320) {
        expect(SLIM_HEADER + plan.pad).toBeLessThanOrEqual(height)
        const beside = plan.beside ? plan.side : PLACES_BESIDE
        const left = (plan.speed ? 132 : 72) + (plan.beside && switches ? 92 : 0)
        if (width >= 568) expect(left + stage.width + plan.pad + beside).toBeLessThanOrEqual(width)
        if (plan.beside) expect(plan.side).toBeGreaterThanOrEqual(240)
      }
      if ((plan.kind === 'tablet' && height >= 760) || (plan.kind === 'upright' && height >= 640)) {
        const strip = plan.kind === 'upright' && plan.small ? 48 : STRIP
        const row = plan.kind === 'tablet' && !switches ? 0 : 52
        const board = height - HEADER - strip - stage.height - 6 - row - plan.pad - 16 - PLACES_BELOW
        expect(board).toBeGreaterThan(plan.kind === 'tablet' ? 100 : 90)
      }
    }),
    { numRuns: 2000 },
  )
})
