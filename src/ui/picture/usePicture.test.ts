import { freshness } from './usePicture'

test('a picture is live, unchanged for long, no longer coming, or not there yet', () => {
  expect(freshness(null, 0, 10_000)).toEqual({ is: 'none', seconds: 0 })
  expect(freshness(9_900, 0, 10_000)).toEqual({ is: 'live', seconds: 0 })
  // A dark ceiling: frames come, and look the same.
  expect(freshness(9_900, 17_000, 10_000)).toEqual({ is: 'same', seconds: 17 })
  expect(freshness(9_900, 4_000, 10_000).is).toBe('live')
  // Frames that do not come are never called unchanged.
  expect(freshness(5_000, 17_000, 10_000)).toEqual({ is: 'old', seconds: 5 })
})
