import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { addVisitor, noMoments } from '../../../core/statistics/moments'
import { momentsOfSums } from './exactSums'

/** Sums as PostgreSQL's numeric gives them, from integers in hundredths. */
function sumsOf(rows: readonly (readonly number[])[]): { sums: string[]; products: string[] } {
  const size = rows[0]!.length
  const decimal = (digits: bigint, places: number) => {
    const text = (digits < 0n ? -digits : digits).toString().padStart(places + 1, '0')
    return `${digits < 0n ? '-' : ''}${text.slice(0, -places)}.${text.slice(-places)}`
  }
  const total = (of: (row: readonly number[]) => bigint) => rows.reduce((sum, row) => sum + of(row), 0n)
  const sums = Array.from({ length: size }, (_, i) =>
    decimal(
      total((row) => BigInt(row[i]!)),
      2,
    ),
  )
  const products: string[] = []
  for (let i = 0; i < size; i++)
    for (let j = 0; j <= i; j++)
      products.push(
        decimal(
          total((row) => BigInt(row[i]!) * BigInt(row[j]!)),
          4,
        ),
      )
  return { sums, products }
}

test('sums of visitors become the moments of their values', () => {
  const cents = fc.integer({ min: -100_000, max: 100_000 })
  fc.assert(
    fc.property(fc.array(fc.tuple(cents, cents), { minLength: 1, maxLength: 40 }), (rows) => {
      const expected = noMoments(2)
      rows.forEach((row) =>
        addVisitor(
          expected,
          row.map((value) => value / 100),
        ),
      )
      const actual = momentsOfSums(rows.length, sumsOf(rows))
      expected.means.forEach((mean, index) => expect(actual.means[index]).toBeCloseTo(mean, 8))
      expected.comoments.forEach((product, index) => expect(actual.comoments[index]).toBeCloseTo(product, 4))
    }),
  )
})

describe('nothing cancels', () => {
  test('where a million visitors have nearly the same large amount', () => {
    // 500,000 visitors with 10,000,000.01 and 500,000 with 10,000,000.03: variance (0.01)².
    const visitors = 1_000_000
    const [low, high] = [1_000_000_001n, 1_000_000_003n]
    const sum = 500_000n * (low + high)
    const squares = 500_000n * (low * low + high * high)
    const { comoments } = momentsOfSums(visitors, {
      sums: [`${sum / 100n}.${String(sum % 100n).padStart(2, '0')}`],
      products: [`${squares / 10_000n}.${String(squares % 10_000n).padStart(4, '0')}`],
    })
    expect(comoments[0]! / visitors).toBeCloseTo(0.0001, 15)
  })

  test('and a constant value has no variance at all', () => {
    expect(momentsOfSums(3, { sums: ['0.3'], products: ['0.03'] }).comoments).toEqual([0])
  })
})

test('visitors without a row count as zeros, and nobody has no moments', () => {
  expect(momentsOfSums(4, { sums: ['2'], products: ['2'] })).toEqual({ count: 4, means: [0.5], comoments: [1] })
  expect(momentsOfSums(0, { sums: ['0', '0'], products: ['0', '0', '0'] })).toEqual({
    count: 0,
    means: [0, 0],
    comoments: [0, 0, 0],
  })
})
