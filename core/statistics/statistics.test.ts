import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { checkAllocation } from './allocation'
import { compareArms } from './compareArms'
import { holm } from './holm'
import { lambertWLower } from './lambertW'
import { conversionMoments, mergeMoments, type Moments } from './moments'
import { comparePosteriors, conversionPosterior, probabilityBest } from './posterior'
import { sampleSizeForConversion } from './power'
import reference from './reference/reference.json'

/** Agreement to 1e-6 relative, with nothing below 1e-15 told from zero. */
function expectClose(actual: number | null | undefined, expected: number | null, tolerance = 1e-6): void {
  if (expected === null) return expect(actual ?? null).toBeNull()
  expect(actual, `${actual} against ${expected}`).toSatisfy((value: number) => Math.abs(value - expected) <= tolerance * Math.abs(expected) + 1e-15)
}
function expectInterval(actual: readonly number[] | null | undefined, expected: readonly number[] | null): void {
  if (expected === null) return expect(actual ?? null).toBeNull()
  expected.forEach((end, index) => expectClose(actual?.[index], end))
}

const plan = { alpha: reference.alpha, plannedVisitors: { control: reference.plannedVisitors / 2, variant: reference.plannedVisitors / 2 } }

describe('conversions agree with SciPy', () => {
  test.each(reference.conversions)('$input', (expected) => {
    const [n0, c0, n1, c1] = expected.input as [number, number, number, number]
    const actual = compareArms(conversionMoments(n0, c0), conversionMoments(n1, c1), { kind: 'conversion', ...plan })!
    expectClose(actual.difference.estimate, expected.difference)
    expectClose(actual.difference.standardError, expected.standardError)
    expectInterval(actual.difference.interval, expected.interval)
    expectInterval(actual.lift.interval, expected.lift)
    expectClose(actual.pValue, expected.pValue)
    expectInterval(actual.sequential.interval, expected.sequentialInterval)
    expectClose(actual.sequential.pValue, expected.sequentialPValue)
    expectClose(actual.posterior.probabilityBetter, expected.posterior.probabilityBetter)
    expectClose(actual.posterior.expectedLoss, expected.posterior.expectedLoss)
    expectClose(actual.posterior.expectedLossOfControl, expected.posterior.expectedLossOfControl)
    if (expected.posterior.liftInterval) expectInterval(actual.posterior.liftInterval, expected.posterior.liftInterval)
  })
})

describe('means agree with SciPy', () => {
  test.each(reference.means)('$input', (expected) => {
    const [n0, m0, s0, n1, m1, s1] = expected.input as [number, number, number, number, number, number]
    const arm = (count: number, mean: number, variance: number): Moments => ({ count, mean, m2: variance * (count - 1) })
    const actual = compareArms(arm(n0, m0, s0), arm(n1, m1, s1), { kind: 'mean', ...plan })!
    expectClose(actual.pValue, expected.pValue)
    expectClose(actual.degreesOfFreedom, expected.degreesOfFreedom)
    expectInterval(actual.difference.interval, expected.interval)
    if (Math.abs(m0) < 1e6) expectInterval(actual.lift.interval, expected.lift)
    expectClose(actual.posterior.probabilityBetter, expected.probabilityBetter)
    expectClose(actual.posterior.expectedLoss, expected.expectedLoss)
  })
})

test.each(reference.allocations)('allocation of $counts agrees with SciPy', (expected) => {
  const actual = checkAllocation(expected.counts, expected.weights)
  expectClose(actual.chiSquare, expected.chiSquare)
  expectClose(actual.pValue, expected.pValue)
  expectClose(actual.sequentialPValue, expected.sequentialPValue)
  expect(actual.alarm).toBe(expected.sequentialPValue < 0.001)
})

test.each(reference.lambertWLower)('W₋₁(%f) agrees with mpmath', (x, w) => {
  expectClose(lambertWLower(x!), w!, 1e-12)
})

describe('what holds for all data', () => {
  const arm = fc.record({ visitors: fc.integer({ min: 1, max: 1e6 }), rate: fc.double({ min: 0, max: 1, noNaN: true }) }).map(({ visitors, rate }) => ({ visitors, converted: Math.round(visitors * rate) }))

  test('swapping the arms mirrors difference, p-values and probability', () => {
    fc.assert(
      fc.property(arm, arm, (a, b) => {
        const [first, second] = [a, b].map(({ visitors, converted }) => conversionMoments(visitors, converted)) as [Moments, Moments]
        const there = compareArms(first, second, { kind: 'conversion', ...plan })!
        const back = compareArms(second, first, { kind: 'conversion', ...plan })!
        expect(there.difference.estimate).toBeCloseTo(-back.difference.estimate, 12)
        expect(there.pValue).toBeCloseTo(back.pValue, 10)
        expect(there.sequential.pValue).toBeCloseTo(back.sequential.pValue, 10)
        expect(there.posterior.probabilityBetter).toBeCloseTo(1 - back.posterior.probabilityBetter, 7)
        expect(there.posterior.expectedLoss).toBeCloseTo(back.posterior.expectedLossOfControl, 7)
      }),
      { numRuns: 40, interruptAfterTimeLimit: 15_000, markInterruptAsFailure: false },
    )
  })

  test('the always-valid interval contains the fixed one', () => {
    fc.assert(
      fc.property(arm, arm, (a, b) => {
        const { difference, sequential } = compareArms(conversionMoments(a.visitors, a.converted), conversionMoments(b.visitors, b.converted), { kind: 'conversion', ...plan })!
        if (!sequential.interval) return
        expect(sequential.interval[0]).toBeLessThanOrEqual(difference.interval[0])
        expect(sequential.interval[1]).toBeGreaterThanOrEqual(difference.interval[1])
      }),
      { numRuns: 40, interruptAfterTimeLimit: 15_000, markInterruptAsFailure: false },
    )
  })

  test('merging in any grouping gives the moments of all values, without cancellation', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 1000 }), { minLength: 3, maxLength: 60 }), fc.nat(), (offsets, cut) => {
        const values = offsets.map((offset) => 1e9 + offset)
        const one = (value: number): Moments => ({ count: 1, mean: value, m2: 0 })
        const at = cut % values.length
        const fold = (part: number[]) => part.map(one).reduce(mergeMoments, { count: 0, mean: 0, m2: 0 })
        const merged = mergeMoments(fold(values.slice(at)), fold(values.slice(0, at)))
        const mean = offsets.reduce((sum, value) => sum + value, 0) / offsets.length
        const m2 = offsets.reduce((sum, value) => sum + (value - mean) ** 2, 0)
        expect(merged.count).toBe(values.length)
        expect(merged.mean - 1e9).toBeCloseTo(mean, 4)
        expect(merged.m2).toBeCloseTo(m2, 0)
      }),
    )
  })
})

test('no visitors, or a control that never converts, give no number where there is none', () => {
  expect(compareArms(conversionMoments(0, 0), conversionMoments(5, 1), { kind: 'conversion', ...plan })).toBeNull()
  const zero = compareArms(conversionMoments(100, 0), conversionMoments(100, 5), { kind: 'conversion', ...plan })!
  expect(zero.lift).toMatchObject({ estimate: null, interval: null, why: expect.stringContaining('zero') })
  const constant = compareArms(conversionMoments(10, 0), conversionMoments(10, 0), { kind: 'conversion', ...plan })!
  expect(constant.sequential).toMatchObject({ interval: null, pValue: 1 })
})

test('probabilities to be the best sum to one, and agree with the comparison of two', () => {
  const posteriors = [conversionPosterior(1000, 50), conversionPosterior(900, 60), conversionPosterior(1100, 55)]
  const best = probabilityBest(posteriors)
  expect(best.reduce((sum, each) => sum + each, 0)).toBeCloseTo(1, 9)
  const [first, second] = posteriors as [(typeof posteriors)[0], (typeof posteriors)[0]]
  expect(probabilityBest([first, second])[1]).toBeCloseTo(comparePosteriors(first, second, 0.05).probabilityBetter, 9)
})

test('Holm, and the published sample size for 5 % against 5.5 %', () => {
  expect(holm([0.01, 0.04, 0.03])).toEqual([0.03, 0.06, 0.06])
  expect(holm([0.6, 0.9])).toEqual([1, 1])
  expect(sampleSizeForConversion({ baseline: 0.05, lift: 0.1, alpha: 0.05, power: 0.8, weights: [1, 1] })).toEqual([31234, 31234])
  const [control, variant] = sampleSizeForConversion({ baseline: 0.05, lift: 0.1, alpha: 0.05, power: 0.8, weights: [2, 1] }) as [number, number]
  expect(control / variant).toBeCloseTo(2, 3)
})
