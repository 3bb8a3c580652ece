import fc from 'fast-check'
import { expect, test } from 'vitest'
import { addVisitor, comoment, mergeAll, mergeMoments, noMoments, type Moments } from './moments'
import { winsorizeLimit } from './winsorize'
import { expectClose } from '../../tests/expectations'
import reference from './reference/reference.json'

const fold = (rows: readonly (readonly number[])[], size = 2): Moments => {
  const moments = noMoments(size)
  rows.forEach((row) => addVisitor(moments, row))
  return moments
}

test('visitors one by one, or merged in any order and grouping, give the same moments without cancellation', () => {
  const offset = fc.integer({ min: 0, max: 1000 })
  fc.assert(
    fc.property(
      fc.array(fc.tuple(offset, offset), { minLength: 3, maxLength: 60 }),
      fc.array(fc.nat(), { minLength: 2, maxLength: 4 }),
      (offsets, cuts) => {
        const rows = offsets.map(([x, y]) => [1e9 + x, y - 1e9])
        const ends = [0, ...cuts.map((cut) => cut % rows.length).sort((a, b) => a - b), rows.length]
        const parts = ends.slice(1).map((end, index) => fold(rows.slice(ends[index], end)))
        const merged = mergeAll([...parts].reverse(), 2)
        const nested = parts.reduceRight((right, part) => mergeMoments(part, right))
        const mean = (index: 0 | 1) => offsets.reduce((sum, each) => sum + each[index], 0) / offsets.length
        const product = (i: 0 | 1, j: 0 | 1) =>
          offsets.reduce((sum, each) => sum + (each[i] - mean(i)) * (each[j] - mean(j)), 0)
        for (const moments of [fold(rows), merged, nested]) {
          expect(moments.count).toBe(rows.length)
          expect(moments.means[0]! - 1e9).toBeCloseTo(mean(0), 4)
          expect(comoment(moments, 0, 0)).toBeCloseTo(product(0, 0), 0)
          expect(comoment(moments, 0, 1)).toBeCloseTo(product(0, 1), 0)
          expect(comoment(moments, 1, 1)).toBeCloseTo(product(1, 1), 0)
        }
      },
    ),
  )
})

test('moments of different values are not merged', () => {
  expect(() => mergeMoments(noMoments(1), noMoments(2))).toThrow(RangeError)
})

test('the limit of winsorizing agrees with NumPy, above zero and of all', () => {
  const revenue = reference.raw.revenue.flatMap((rows) => rows.map(([value]) => value!))
  for (const { quantile, aboveZero, all } of reference.winsorize) {
    expectClose(winsorizeLimit(revenue, quantile, 'above zero'), aboveZero)
    expectClose(winsorizeLimit(revenue, quantile, 'all'), all)
  }
})

test('winsorizing at 1 changes nothing; values that are never above zero have a limit all the same', () => {
  fc.assert(
    fc.property(fc.array(fc.double({ noNaN: true, min: -1e6, max: 1e6 }), { minLength: 1 }), (values) => {
      expect(Math.max(...values)).toBeLessThanOrEqual(winsorizeLimit(values, 1, 'above zero'))
    }),
  )
  expect(winsorizeLimit([-3, -1, 0], 0.5, 'above zero')).toBe(-1)
  expect(() => winsorizeLimit([1], 0, 'all')).toThrow(RangeError)
})
