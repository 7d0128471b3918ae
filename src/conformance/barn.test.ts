/** The demo's cameras, each over its own link and protocol: timed moves arrive, all of them, whatever is lost or late. */
import { BARN_HEADS, type BarnHead, barnMoves } from './barnRig'
import { summed } from './followMoves'

const CASES = BARN_HEADS.flatMap((id) => [0, 0.1].map((loss): [BarnHead, number] => [id, loss]))

test.each(CASES)('%s, with a share of %d lost', async (id, loss) => {
  const moves = await barnMoves(id, { count: 10, longest: 8, seed: 31, loss, plain: false })
  for (const move of moves) {
    expect([move.said, move.state]).toEqual(['', 'arrived'])
    // Two steps of the coarsest of these heads.
    expect(move.endDeg).toBeLessThan(0.07)
  }
  const found = summed(moves)
  expect(found.onTime).toBeGreaterThanOrEqual(loss === 0 ? 0.9 : 0.4)
  expect(found.offMedianDeg).toBeLessThan(0.25)
})
