import fc from 'fast-check'
import { expect, test } from 'vitest'
import { bucketOf, BUCKETS } from './assignment'
import { freeRanges, isInRanges, sizeOf, takeBuckets, type Part, type Range } from './bucketSpace'

test('buckets are given from the front, kept when more are asked for, and refused where too few are left', () => {
  const parts: Part[] = [
    { experiment: 1, ranges: [[0, 4000]] },
    { experiment: 2, ranges: [[5000, 6000]] },
  ]
  expect(takeBuckets(parts, 3, 1000)).toEqual([[4000, 5000]])
  expect(takeBuckets(parts, 3, 2000)).toEqual([
    [4000, 5000],
    [6000, 7000],
  ])
  expect(takeBuckets(parts, 2, 2500)).toEqual([[4000, 6500]])
  expect(takeBuckets(parts, 3, 5000)).toHaveLength(2)
  expect(takeBuckets(parts, 3, 5001)).toBeNull()
  expect(freeRanges(parts)).toEqual([
    [4000, 5000],
    [6000, BUCKETS],
  ])
})

test('whatever comes, goes and grows, nobody is in two experiments and nobody who was in is moved', () => {
  const step = fc.record({
    experiment: fc.integer({ min: 1, max: 5 }),
    share: fc.integer({ min: 0, max: 6000 }),
    ends: fc.boolean(),
  })
  fc.assert(
    fc.property(fc.array(step, { maxLength: 30 }), (steps) => {
      let parts: Part[] = []
      for (const { experiment, share, ends } of steps) {
        const before = parts.find((part) => part.experiment === experiment)?.ranges ?? []
        const others = parts.filter((part) => part.experiment !== experiment)
        if (ends) {
          parts = others
          continue
        }
        const after = takeBuckets(parts, experiment, Math.max(share, sizeOf(before)))
        if (!after) continue
        expect(sizeOf(after)).toBe(Math.max(share, sizeOf(before)))
        for (const [from, to] of before)
          for (const bucket of [from, to - 1]) expect(isInRanges(bucket, after)).toBe(true)
        parts = [...others, { experiment, ranges: after }]
        expect(sizeOf(freeRanges(parts)) + parts.reduce((sum, { ranges }) => sum + sizeOf(ranges), 0)).toBe(BUCKETS)
      }
    }),
  )
})

test('of 2,000 visitors nobody lies in two parts, and the parts are as large as they were set within chance', () => {
  const ranges: Range[][] = [[[0, 2000]], [[2000, 5000]]]
  const counts = [0, 0]
  for (let index = 0; index < 2000; index++) {
    const bucket = bucketOf(`visitor-${index}`, 'group-salt', 3)
    const own = ranges.map((each) => isInRanges(bucket, each))
    expect(own.filter(Boolean).length).toBeLessThan(2)
    own.forEach((isIn, place) => (counts[place]! += isIn ? 1 : 0))
  }
  // Four standard errors of shares of 20 % and 30 %.
  expect(Math.abs(counts[0]! - 400)).toBeLessThan(4 * Math.sqrt(2000 * 0.2 * 0.8))
  expect(Math.abs(counts[1]! - 600)).toBeLessThan(4 * Math.sqrt(2000 * 0.3 * 0.7))
})
