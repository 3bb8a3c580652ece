import { describe, expect, test } from 'vitest'
import { assign, BUCKETS, bucketOf, isInTest, variantOf } from './assignment'
import { murmurHash3 } from './murmurHash3'
import vectors from './vectors.json'

const MILLION = 1_000_000
/** 99.9 % quantiles of the chi-square distribution. */
const LIMIT_99 = 148.2
const LIMIT_9 = 27.9

function chiSquare(observed: readonly number[], expected: number): number {
  return observed.reduce((sum, count) => sum + (count - expected) ** 2 / expected, 0)
}

describe('fixed vectors, made by another implementation', () => {
  test.each(vectors.hashes)('hash of "$text" with seed $seed', ({ text, seed, hash }) => {
    expect(murmurHash3(text, seed)).toBe(hash)
  })

  test('assignments', () => {
    for (const { visitor, salt, share, weights, inTestBucket, variantBucket, variant } of vectors.assignments) {
      expect([
        bucketOf(visitor, salt, 1),
        bucketOf(visitor, salt, 2),
        assign(visitor, { salt, share, weights }),
      ]).toEqual([inTestBucket, variantBucket, variant])
    }
  })
})

describe('over a million visitors', () => {
  test('buckets are uniform, and experiments and questions independent of each other', () => {
    const inTest = new Array<number>(100).fill(0)
    const questions = new Array<number>(100).fill(0)
    const experiments = new Array<number>(100).fill(0)
    for (let id = 0; id < MILLION; id++) {
      const visitor = `visitor-${id}`
      const first = bucketOf(visitor, 'one', 1)
      const tenth = Math.floor(first / (BUCKETS / 10))
      inTest[Math.floor(first / 100)]!++
      questions[tenth * 10 + Math.floor(bucketOf(visitor, 'one', 2) / (BUCKETS / 10))]!++
      experiments[tenth * 10 + Math.floor(bucketOf(visitor, 'two', 1) / (BUCKETS / 10))]!++
    }
    for (const table of [inTest, questions, experiments]) expect(chiSquare(table, MILLION / 100)).toBeLessThan(LIMIT_99)
  })

  test('weights are met', () => {
    const counts = new Array<number>(10).fill(0)
    const weights = counts.map(() => 1)
    for (let id = 0; id < MILLION; id++)
      counts[variantOf(`visitor-${id}`, { salt: 'weights', share: BUCKETS, weights })]!++
    expect(chiSquare(counts, MILLION / 10)).toBeLessThan(LIMIT_9)
  })
})

test('raising the share only moves visitors from outside to inside', () => {
  let joined = 0
  for (let id = 0; id < 50_000; id++) {
    const visitor = `visitor-${id}`
    const before = assign(visitor, { salt: 'ramp', share: 1000, weights: [1, 1, 1] })
    const after = assign(visitor, { salt: 'ramp', share: 6000, weights: [1, 1, 1] })
    if (before !== null) expect(after).toBe(before)
    else if (after !== null) joined++
  }
  expect(joined).toBeGreaterThan(24_000)
  expect(joined).toBeLessThan(26_000)
})

test('a share of nothing takes nobody, of everything everybody; weights of nothing are refused', () => {
  expect(isInTest('anyone', { salt: 's', share: 0 })).toBe(false)
  expect(isInTest('anyone', { salt: 's', share: BUCKETS })).toBe(true)
  expect(() => variantOf('anyone', { salt: 's', share: BUCKETS, weights: [0, 0] })).toThrow(RangeError)
})
