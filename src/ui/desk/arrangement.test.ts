import fc from 'fast-check'
import { BLOCKS, type Block, moved, shown, sized, USUAL_PLACEMENT } from '../../core/controls/placement'
import { HEADER, PLACES_BELOW, PLACES_BESIDE, SLIM_HEADER, STRIP } from '../theme/rooms'
import { arrange, shapeOf } from './arrangement'

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

const wishes = fc.record({
  hide: fc.subarray([...BLOCKS], { maxLength: 4 }),
  moves: fc.array(fc.tuple(fc.constantFrom(...BLOCKS), fc.constantFrom(...BLOCKS)), { maxLength: 6 }),
  size: fc.double({ min: 0.6, max: 1.5, noNaN: true }),
})

test('however a person has it, what is in a row is no wider than the window, and a pad that is shown can be used', () => {
  fc.assert(
    fc.property(sides(2600), sides(1600), fc.boolean(), wishes, (width, height, switches, wish) => {
      const shape = shapeOf(width, height, switches)
      let own = USUAL_PLACEMENT[shape]
      for (const [block, to] of wish.moves) own = moved(shape, own, block, to)
      for (const block of wish.hide) own = shown(own, block, false)
      for (const block of BLOCKS) own = sized(own, block, wish.size - 1)
      const plan = arrange(width, height, ROOM, switches, own)
      const has = (block: Block) => !own.hidden.includes(block)
      const stage = has('picture') ? plan.pictureWidth + ROOM.across : 0
      expect(stage).toBeLessThanOrEqual(width)
      if (has('deck')) expect(plan.pad).toBeGreaterThanOrEqual(120)
      if (plan.kind === 'columns') {
        const beside = plan.columns.reduce((sum, column) => sum + (column.width ?? 0), 0)
        expect(beside + stage).toBeLessThanOrEqual(width)
        expect(plan.columns.filter((column) => column.width === null)).toHaveLength(1)
        const deckIn = plan.columns.find((column) => column.blocks.includes('deck'))
        if (deckIn?.width) expect(plan.pad + 110).toBeLessThanOrEqual(Math.max(deckIn.width, 230))
      }
    }),
    { numRuns: 3000 },
  )
})

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
        const sides = plan.columns.reduce((sum, column) => sum + (column.width ?? 0), 0)
        expect(sides + stage.width).toBeLessThanOrEqual(width)
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
