import fc from 'fast-check'
import * as v from 'valibot'
import {
  BLOCKS,
  type Block,
  blocksOf,
  mended,
  movable,
  moved,
  Placement,
  SHAPES,
  type Shape,
  shown,
  sized,
  stepped,
  USUAL_PLACEMENT,
  visible,
} from './placement'

const blocks = fc.constantFrom(...BLOCKS)
const anyPlacement = fc.record({
  columns: fc.array(fc.array(blocks, { maxLength: 8 }), { maxLength: 8 }),
  hidden: fc.array(blocks, { maxLength: 8 }),
  size: fc.constant({}),
})
const inOrder = (placement: Placement) => placement.columns.flat().sort().join()

test('a placement of any origin is made whole: each block of the shape once, something to be seen', () => {
  fc.assert(
    fc.property(fc.constantFrom(...SHAPES), anyPlacement, (shape, kept) => {
      const placement = mended(shape, kept)
      expect(inOrder(placement)).toBe(inOrder(USUAL_PLACEMENT[shape]))
      expect(placement.columns.every((column) => column.length > 0)).toBe(true)
      expect(mended(shape, placement)).toEqual(placement)
      if (shape !== 'wide') expect(placement.columns).toHaveLength(USUAL_PLACEMENT[shape].columns.length)
    }),
    { numRuns: 2000 },
  )
})

type Act = {
  block: Block
  to: Block | 'left' | 'right' | 'hide' | 'show' | 'grow' | 'shrink' | 'next' | 'before'
}
const acts: fc.Arbitrary<Act[]> = fc.array(
  fc.record({
    block: blocks,
    to: fc.oneof(
      blocks,
      fc.constantFrom(...(['left', 'right', 'hide', 'show', 'grow', 'shrink', 'next', 'before'] as const)),
    ),
  }),
  { maxLength: 40 },
)

function act(shape: Shape, placement: Placement, { block, to }: Act): Placement {
  if (!blocksOf(shape).includes(block)) return placement
  if (to === 'hide' || to === 'show') return shown(placement, block, to === 'show')
  if (to === 'grow' || to === 'shrink') return sized(placement, block, to === 'grow' ? 0.1 : -0.1)
  if (to === 'next' || to === 'before') return stepped(shape, placement, block, to === 'next' ? 1 : -1)
  return moved(shape, placement, block, to)
}

test('whatever is dragged, hidden and resized, no block is lost, one is seen, and it can be kept', () => {
  fc.assert(
    fc.property(fc.constantFrom(...SHAPES), acts, (shape, done) => {
      const placement = done.reduce((before, next) => act(shape, before, next), USUAL_PLACEMENT[shape])
      expect(inOrder(placement)).toBe(inOrder(USUAL_PLACEMENT[shape]))
      expect(visible(placement).length).toBeGreaterThan(0)
      expect(v.parse(Placement, placement)).toEqual(placement)
      expect(mended(shape, placement).columns).toEqual(placement.columns)
    }),
    { numRuns: 2000 },
  )
})

test('a block takes the place on which it is dropped; at an edge it has a column of its own', () => {
  const usual = USUAL_PLACEMENT.wide
  const below = moved('wide', usual, 'deck', 'presets')
  expect(below.columns).toEqual([['cameras'], ['picture', 'tools'], ['deck', 'presets']])
  expect(moved('wide', below, 'deck', 'left').columns).toEqual([
    ['deck'],
    ['cameras'],
    ['picture', 'tools'],
    ['presets'],
  ])
  expect(moved('phone', USUAL_PLACEMENT.phone, 'presets', 'picture').columns).toEqual([
    ['cameras', 'presets', 'picture', 'deck'],
  ])
  // A left-handed phone held across: the pad under the other thumb.
  expect(moved('across', USUAL_PLACEMENT.across, 'deck', 'zoom').columns).toEqual([
    ['deck'],
    ['zoom'],
    ['cameras', 'picture', 'presets'],
  ])
  expect(movable('across', 'cameras')).toBe(false)
})
