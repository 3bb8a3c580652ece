import { expect, test } from 'vitest'
import { shareDifference } from './newcombe'

test('the intervals are those that Newcombe (1998, table II, method 10) prints', () => {
  const printed: [number, number, number, number, number, number][] = [
    [56, 70, 48, 80, 0.0524, 0.3339],
    [9, 10, 3, 10, 0.1705, 0.809],
    [10, 10, 0, 20, 0.6791, 1.0],
    [5, 56, 0, 29, -0.0381, 0.1926],
  ]
  for (const [a, m, b, n, low, high] of printed) {
    const found = shareDifference({ count: a, of: m }, { count: b, of: n })!
    expect(found.low).toBeCloseTo(low, 4)
    expect(found.high).toBeCloseTo(high, 4)
  }
  expect(shareDifference({ count: 0, of: 0 }, { count: 1, of: 2 })).toBe(null)
})
