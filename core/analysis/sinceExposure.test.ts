import { describe, expect, test } from 'vitest'
import { drawsFrom, type Draws } from '../random/draws'
import { seededUniform } from '../random/seededUniform'
import { heterogeneity } from '../statistics/heterogeneity'
import { addVisitor, noMoments, type Moments } from '../statistics/moments'
import { waldTest } from '../statistics/waldTest'
import { readSinceExposure, sincePeriods } from './sinceExposure'

const PERIODS = sincePeriods(() => 1, 14)

test('visitors are followed for as long as half of them were, and as the metric looks', () => {
  const edges = (followed: (days: number) => number, window: number | null) =>
    sincePeriods(followed, window).map(({ until }) => until)
  expect(edges(() => 1, null)).toEqual([1, 2, 4, 7, 14, 28])
  expect(edges((days) => (days > 7 ? 0.4 : 0.6), null)).toEqual([1, 2, 4, 7])
  expect(edges(() => 1, 14)).toEqual([1, 2, 4, 7, 14])
  expect(edges(() => 1, 3)).toEqual([])
  expect(edges(() => 0.4, null)).toEqual([])
})

/** Visitors who convert in each period by a rate of their own, times what the variant makes of it in that period. */
function arm(visitors: number, times: readonly number[], draws: Draws): Moments {
  const moments = noMoments(PERIODS.length)
  for (let visitor = 0; visitor < visitors; visitor++) {
    const own = 0.15 * Math.exp(draws.normal(0, 0.7) - 0.245)
    addVisitor(
      moments,
      times.map((each) => draws.binomial(1, Math.min(1, own * each))),
    )
  }
  return moments
}
const even = PERIODS.map(() => 1)

describe('an effect by the days since the exposure', () => {
  test('that stays the same has a trend in as many runs as the level says, though visitors hang together', () => {
    const draws = drawsFrom(seededUniform(27))
    const runs = Array.from({ length: 400 }, () => {
      const arms = [
        arm(400, even, draws),
        arm(
          400,
          PERIODS.map(() => 1.2),
          draws,
        ),
      ]
      return readSinceExposure('conversion', PERIODS, arms, 1, 0.05)
    })
    const share = (holds: (run: (typeof runs)[number]) => boolean) => runs.filter(holds).length / runs.length
    // Three standard errors.
    expect(Math.abs(share(({ trend }) => trend!.pValue < 0.05) - 0.05)).toBeLessThan(0.033)
    expect(Math.abs(share(({ differ }) => differ.pValue! < 0.05) - 0.05)).toBeLessThan(0.033)
  })

  test('that wears off is told so, with its rate', () => {
    const draws = drawsFrom(seededUniform(28))
    const wearing = PERIODS.map(({ from }) => 1.8 * 0.8 ** Math.log2(1 + from))
    const arms = [arm(20_000, even, draws), arm(20_000, wearing, draws)]
    const { periods, differ, trend } = readSinceExposure('conversion', PERIODS, arms, 1, 0.05)
    expect(periods.map(({ name }) => name)).toEqual(['day 1', 'day 2', 'days 3 to 4', 'days 5 to 7', 'days 8 to 14'])
    expect(trend!.perDoubling).toBeCloseTo(-0.2, 1)
    expect(trend!.interval[0]).toBeLessThan(-0.2)
    expect(trend!.interval[1]).toBeGreaterThan(-0.2)
    expect(Math.max(trend!.pValue, differ.pValue!)).toBeLessThan(1e-6)
    expect(new Set(periods.map(({ visitors }) => visitors))).toEqual(new Set([40_000]))
  })

  test('is not told of periods in which nothing happens', () => {
    const nothing = { ...noMoments(PERIODS.length), count: 50 }
    const { periods, differ, trend } = readSinceExposure('conversion', PERIODS, [nothing, nothing], 1, 0.05)
    expect([trend, differ.pValue, periods[0]!.lift.estimate]).toEqual([null, null, null])
  })
})

test('effects that do not hang together are tested as by Cochran’s Q', () => {
  const effects = [0.1, 0.4, -0.2, 0.3]
  const errors = [0.1, 0.2, 0.15, 0.3]
  const covariances = errors.map((error, i) => errors.map((_, j) => (i === j ? error * error : 0)))
  const own = waldTest(effects, covariances)
  const other = heterogeneity(effects.map((estimate, index) => ({ estimate, standardError: errors[index]! })))
  expect(own.q).toBeCloseTo(other.q!, 10)
  expect(own.pValue).toBeCloseTo(other.pValue!, 10)
  // By hand: the variance of the difference is 1 + 1 − 2 · 0.5.
  expect(
    waldTest(
      [0, 2],
      [
        [1, 0.5],
        [0.5, 1],
      ],
    ).q,
  ).toBeCloseTo(4, 10)
  expect(
    waldTest(
      [1, 1],
      [
        [1, 1],
        [1, 1],
      ],
    ).pValue,
  ).toBeNull()
})
