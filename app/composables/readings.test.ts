import type { MetricResults } from '~~/shared/experiments/resultsReplies'
import { expect, test } from 'vitest'
import { symmetricDomain, trackDomain } from './readings'

test.each<[string, number[], number, number]>([
  ['nothing yet', [], 0.1, 0.1],
  ['much alike', [0.1, 0.12, 0.2], 0.1, 0.23],
  ['one far wider than the others', [0.1, 0.12, 0.12, 0.1, 5, 5], 0.1, 0.36],
  ['all of them wide', [4, 5], 0.1, 5.75],
])('the scale of tracks: %s', (_, ends, least, widest) => {
  const [low, high] = symmetricDomain(ends, least)
  expect([-low, high].map((end) => Number(end.toFixed(6)))).toEqual([widest, widest])
})

test('tracks of one table share a scale that shows every interval, and the zones at least', () => {
  const comparison = { lift: { interval: [-0.05, 0.2] }, sequential: { lift: { interval: [-0.1, 0.3] } } }
  const results = { comparisons: [comparison] } as unknown as MetricResults
  const [low, high] = trackDomain([results], 0.05)
  expect(high).toBeGreaterThan(0.3)
  expect(low).toBe(-high)
  expect(trackDomain([], 0.05)).toEqual([-0.1, 0.1])
})
