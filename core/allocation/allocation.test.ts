import { describe, expect, test } from 'vitest'
import { expectClose } from '../../tests/expectations'
import { checkAllocation } from '../statistics/allocation'
import { addVisitor, conversionMoments, noMoments, sampleVariance } from '../statistics/moments'
import { checkAllocationByPeriod } from './allocationByPeriod'
import { nextShares } from './nextShares'
import { mixedMoments, weightedMoments, type AllocationPeriod } from './period'

const period = (shares: readonly number[], arms: readonly (readonly [visitors: number, converted: number])[]) => ({
  shares,
  arms: arms.map(([visitors, converted]) => conversionMoments(visitors, converted)),
})
/**
 * Within each period the variant converts a tenth more. It got nine tenths of the visitors when nobody bought, and a
 * tenth in the sale: taken together it converts less.
 */
const PARADOX = [
  period(
    [0.1, 0.9],
    [
      [1000, 100],
      [9000, 990],
    ],
  ),
  period(
    [0.9, 0.1],
    [
      [9000, 4500],
      [1000, 550],
    ],
  ),
]

describe('a run whose weights move', () => {
  test('is read period by period, so that a busy time raises no arm', () => {
    const [control, variant] = mixedMoments(PARADOX, 1)
    expect(variant!.means[0]! / control!.means[0]! - 1).toBeLessThan(-0.6)
    const [one, other] = weightedMoments(PARADOX)
    expect(other!.means[0]! / one!.means[0]! - 1).toBeCloseTo(0.1, 12)
    // Both periods have as many visitors, and shares that are as uneven: they count the same.
    expectClose(one!.means[0]!, (0.1 + 0.5) / 2, 1e-12)
    expect([one!.count, other!.count]).toEqual([10_000, 10_000])
    // The variance of the mean: a quarter of the sum of those of the two.
    const ofMeans = [
      sampleVariance(conversionMoments(1000, 100)) / 1000,
      sampleVariance(conversionMoments(9000, 4500)) / 9000,
    ]
    expectClose(sampleVariance(one!) / one!.count, (ofMeans[0]! + ofMeans[1]!) / 4, 1e-12)
  })

  test('counts a period by its visitors, and less where they were split unevenly', () => {
    const [even] = weightedMoments([
      period(
        [0.5, 0.5],
        [
          [100, 10],
          [100, 10],
        ],
      ),
      period(
        [0.5, 0.5],
        [
          [300, 90],
          [300, 90],
        ],
      ),
    ])
    expectClose(even!.means[0]!, (200 * 0.1 + 600 * 0.3) / 800, 1e-12)
    const [uneven] = weightedMoments([
      period(
        [0.5, 0.5],
        [
          [100, 10],
          [100, 10],
        ],
      ),
      period(
        [0.1, 0.9],
        [
          [20, 6],
          [180, 54],
        ],
      ),
    ])
    // Harmonic means of the shares: 0.5 and 2 / (10 + 10/9).
    const [a, b] = [Math.sqrt(0.5), Math.sqrt(0.18)]
    expectClose(uneven!.means[0]!, (a * 0.1 + b * 0.3) / (a + b), 1e-12)
  })

  test('with one period is as it was counted, with every value and covariate', () => {
    const arms = [noMoments(2), noMoments(2)]
    for (let visitor = 0; visitor < 40; visitor++) addVisitor(arms[visitor % 2]!, [visitor % 7, visitor % 5])
    weightedMoments([{ shares: [0.5, 0.5], arms }]).forEach((weighted, arm) => {
      expect(weighted.count).toBe(arms[arm]!.count)
      weighted.means.forEach((mean, at) => expectClose(mean, arms[arm]!.means[at]!, 1e-12))
      weighted.comoments.forEach((each, at) => expectClose(each, arms[arm]!.comoments[at]!, 1e-12))
    })
  })

  test('leaves out a period in which an arm has nobody to compare with', () => {
    const [control, variant] = weightedMoments([
      PARADOX[0]!,
      period(
        [0.9, 0.1],
        [
          [500, 400],
          [1, 0],
        ],
      ),
    ])
    expect([control!.means[0], variant!.means[0]]).toEqual([0.1, 0.11])
    expect([control!.count, variant!.count]).toEqual([1500, 9001])
    expect(
      weightedMoments([
        period(
          [0.5, 0.5],
          [
            [1, 1],
            [0, 0],
          ],
        ),
      ]).map(({ count }) => count),
    ).toEqual([0, 0])
    expect(weightedMoments([])).toEqual([])
  })
})

describe('where the next visitors go', () => {
  const asked = (arms: readonly (readonly [number, number])[], floor = 0.1, direction: 'up' | 'down' = 'up') => {
    const moments = arms.map(([visitors, converted]) => conversionMoments(visitors, converted))
    const active = arms.reduce((sum, [, converted]) => sum + converted, 0)
    return nextShares(moments, moments, active, floor, direction)
  }

  test('to each arm as often as it is the best, never below the floor, and all of them somewhere', () => {
    const { shares, chances } = asked([
      [1000, 50],
      [1000, 60],
      [1000, 90],
    ])!
    expect(chances[2]).toBeGreaterThan(0.98)
    expect(shares.map((share) => Number(share.toFixed(1)))).toEqual([0.1, 0.1, 0.8])
    expect(Math.min(...shares)).toBeGreaterThanOrEqual(0.1)
    expect(Math.round(shares.reduce((sum, share) => sum + share, 0) * 1e9)).toBe(1e9)
    expect(
      asked(
        [
          [1000, 50],
          [1000, 60],
          [1000, 90],
        ],
        0.1,
        'down',
      )!.shares[0],
    ).toBeGreaterThan(0.6)
  })

  test('evenly while nothing tells them apart, and as before while hardly anything has happened', () => {
    expect(
      asked([
        [1000, 50],
        [1000, 50],
      ])!.shares,
    ).toEqual([0.5, 0.5])
    expect(
      asked([
        [100, 9],
        [100, 10],
      ]),
    ).toBeNull()
    expect(
      asked([
        [1, 1],
        [1000, 50],
      ]),
    ).toBeNull()
    // Nothing has happened in an arm of few visitors: it is not certain to be the worst.
    expect(
      asked([
        [2000, 60],
        [10, 0],
      ])!.chances[1],
    ).toBeGreaterThan(0.1)
  })

  test('a floor that takes all leaves nothing to move, and one that takes more is refused', () => {
    expect(
      asked(
        [
          [1000, 50],
          [1000, 90],
        ],
        0.5,
      )!.shares,
    ).toEqual([0.5, 0.5])
    expect(() =>
      asked(
        [
          [1000, 50],
          [1000, 90],
        ],
        0.51,
      ),
    ).toThrow(RangeError)
  })
})

describe('whether it was split as it was to be', () => {
  const of = (periods: readonly AllocationPeriod[]) =>
    checkAllocationByPeriod(periods.map(({ shares, arms }) => ({ shares, visitors: arms.map(({ count }) => count) })))

  test('each period is held against its own shares', () => {
    const check = of(PARADOX)
    expect(check).toMatchObject({ observed: [10_000, 10_000], degreesOfFreedom: 2, chiSquare: 0, alarm: false })
    expect(check.expected).toEqual([10_000, 10_000])
    // Taken together the arms have as many visitors each, which says nothing: both periods are off.
    const swapped = PARADOX.map(({ arms }, at) => ({ arms, shares: PARADOX[1 - at]!.shares }))
    expect(of(swapped)).toMatchObject({ observed: [10_000, 10_000], alarm: true })
    expect(checkAllocation([10_000, 10_000], [0.5, 0.5]).alarm).toBe(false)
  })

  test('one period is the check that runs have whose weights stay', () => {
    const [first] = PARADOX
    const check = of([{ ...first!, arms: [conversionMoments(1100, 1), conversionMoments(8900, 1)] }])
    expect(check).toEqual(checkAllocation([1100, 8900], [0.1, 0.9]))
  })
})
