import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { compareArms, type ComparisonPlan } from './compareArms'
import { estimateArm, type ArmEstimate } from './estimate'
import { addVisitor, conversionMoments, momentsOfMean, noMoments } from './moments'
import { expectClose, expectInterval } from '../../tests/expectations'
import reference from './reference/reference.json'

const planned = { control: reference.plannedVisitors / 2, variant: reference.plannedVisitors / 2 }
const planOf = (kind: ComparisonPlan['kind'], more: Partial<ComparisonPlan> = {}): ComparisonPlan => ({
  kind,
  alpha: reference.alpha,
  plannedVisitors: planned,
  ...more,
})
const conversionArm = (visitors: number, converted: number) =>
  estimateArm('conversion', conversionMoments(visitors, converted))
const meanArm = (count: number, mean: number, variance: number) =>
  estimateArm('mean', momentsOfMean(count, mean, variance * (count - 1)))

describe('conversions agree with SciPy', () => {
  test.each(reference.conversions)('$input', (expected) => {
    const [n0, c0, n1, c1] = expected.input as [number, number, number, number]
    const actual = compareArms(conversionArm(n0, c0), conversionArm(n1, c1), planOf('conversion'))
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
    const actual = compareArms(meanArm(n0, m0, s0), meanArm(n1, m1, s1), planOf('mean'))
    // SciPy forms the difference of two rounded means, too; near 1e9 a few digits are all there is.
    const tolerance = Math.abs(m0) >= 1e9 ? 1e-5 : 1e-6
    expectClose(actual.pValue, expected.pValue, tolerance)
    expectClose(actual.degreesOfFreedom, expected.degreesOfFreedom)
    expectInterval(actual.difference.interval, expected.interval, tolerance)
    if (Math.abs(m0) < 1e6) expectInterval(actual.lift.interval, expected.lift)
    expectClose(actual.posterior.probabilityBetter, expected.probabilityBetter)
    expectClose(actual.posterior.expectedLoss, expected.expectedLoss, 1e-5)
  })
})

test('a ratio of sums agrees with the variance of linearized raw values', () => {
  const arms = reference.raw.ratio.slice(0, 2).map((rows) => {
    const moments = noMoments(2)
    rows.forEach((row) => addVisitor(moments, row))
    return estimateArm('ratio', moments)
  }) as [ArmEstimate, ArmEstimate]
  arms.forEach((arm, index) => {
    expectClose(arm.mean, reference.ratio.arms[index]!.mean)
    expectClose(arm.variance, reference.ratio.arms[index]!.variance)
  })
  const actual = compareArms(...arms, planOf('ratio'))
  expectClose(actual.difference.estimate, reference.ratio.estimate)
  expectInterval(actual.difference.interval, reference.ratio.interval)
  expectInterval(actual.lift.interval, reference.ratio.lift)
  expectClose(actual.pValue, reference.ratio.pValue)
  expect(actual.degreesOfFreedom).toBeNull()
})

describe('a number that the data cannot give is null, and says why', () => {
  const nobody: ArmEstimate = estimateArm('mean', noMoments(1))
  test.each<[string, ArmEstimate, ArmEstimate, ComparisonPlan['kind'], string, string]>([
    ['no visitors', nobody, meanArm(5, 1, 1), 'mean', 'difference', 'no visitors'],
    ['one visitor', meanArm(1, 3, 0), meanArm(5, 1, 1), 'mean', 'sequential', 'single visitor'],
    ['values that never vary', meanArm(10, 2, 0), meanArm(10, 3, 0), 'mean', 'difference', 'same value'],
    ['a control that never converts', conversionArm(100, 0), conversionArm(100, 5), 'conversion', 'lift', 'zero'],
    [
      'a control close to zero',
      conversionArm(100, 1),
      conversionArm(100, 5),
      'conversion',
      'lift',
      'cannot be told from zero',
    ],
    [
      'a denominator of zero',
      estimateArm('ratio', { count: 4, means: [1, 0], comoments: [2, 0, 0] }),
      estimateArm('ratio', { count: 4, means: [1, 2], comoments: [2, 0, 1] }),
      'ratio',
      'difference',
      'denominator',
    ],
  ])('%s', (_, control, variant, kind, part, why) => {
    const reading = compareArms(control, variant, planOf(kind))[part as 'difference' | 'lift' | 'sequential']
    expect(reading.interval).toBeNull()
    expect(reading.why).toContain(why)
  })

  test('nothing is NaN or infinite, whatever the counts', () => {
    const counts = fc.record({
      visitors: fc.oneof(fc.integer({ min: 0, max: 5 }), fc.integer({ min: 6, max: 1e9 })),
      share: fc.oneof(fc.constantFrom(0, 1, 1e-9), fc.double({ min: 0, max: 1, noNaN: true })),
    })
    fc.assert(
      fc.property(counts, counts, fc.constantFrom('up' as const, 'down' as const), (a, b, direction) => {
        const [control, variant] = [a, b].map(({ visitors, share }) =>
          conversionArm(visitors, Math.round(visitors * share)),
        ) as [ArmEstimate, ArmEstimate]
        expect(
          JSON.stringify(compareArms(control, variant, planOf('conversion', { direction })), (_, value: unknown) =>
            typeof value === 'number' && !Number.isFinite(value) ? 'not finite' : value,
          ),
        ).not.toContain('not finite')
      }),
      { numRuns: 60 },
    )
  })
})

describe('what holds for all data', () => {
  const arm = fc
    .record({
      visitors: fc.integer({ min: 2, max: 1e6 }),
      mean: fc.double({ min: -100, max: 100, noNaN: true }),
      variance: fc.double({ min: 0.01, max: 1e4, noNaN: true }),
    })
    .map(({ visitors, mean, variance }) => meanArm(visitors, mean, variance))
  const conversions = fc
    .record({ visitors: fc.integer({ min: 1, max: 1e6 }), rate: fc.double({ min: 0, max: 1, noNaN: true }) })
    .map(({ visitors, rate }) => conversionArm(visitors, Math.round(visitors * rate)))

  test('swapping the arms mirrors difference, p-values, probability and losses', () => {
    fc.assert(
      fc.property(conversions, conversions, (a, b) => {
        const there = compareArms(a, b, planOf('conversion'))
        const back = compareArms(b, a, planOf('conversion'))
        expect(there.difference.estimate).toBeCloseTo(-back.difference.estimate!, 12)
        expect(there.pValue ?? 1).toBeCloseTo(back.pValue ?? 1, 10)
        expect(there.sequential.pValue ?? 1).toBeCloseTo(back.sequential.pValue ?? 1, 10)
        expect(there.posterior.probabilityBetter).toBeCloseTo(1 - back.posterior.probabilityBetter!, 9)
        expect(there.posterior.expectedLoss).toBeCloseTo(back.posterior.expectedLossOfControl!, 9)
      }),
      { numRuns: 60 },
    )
  })

  test('“down is better” turns probability and losses, and nothing else', () => {
    fc.assert(
      fc.property(arm, arm, (a, b) => {
        const up = compareArms(a, b, planOf('mean'))
        const down = compareArms(a, b, planOf('mean', { direction: 'down' }))
        expect(down.difference).toEqual(up.difference)
        expect(down.posterior.probabilityBetter).toBeCloseTo(1 - up.posterior.probabilityBetter!, 12)
        expect(down.posterior.expectedLoss).toBe(up.posterior.expectedLossOfControl)
      }),
    )
  })

  test('the unit of a metric changes no relative number and no p-value', () => {
    fc.assert(
      fc.property(arm, arm, fc.constantFrom(1e-6, 0.01, 1000, 1e9), (a, b, factor) => {
        const scaled = ({ visitors, mean, variance }: ArmEstimate) => ({
          visitors,
          mean: mean! * factor,
          variance: variance! * factor * factor,
        })
        const before = compareArms(a, b, planOf('mean'))
        const after = compareArms(scaled(a), scaled(b), planOf('mean'))
        expectClose(after.pValue, before.pValue, 1e-8)
        expectClose(after.sequential.pValue, before.sequential.pValue, 1e-6)
        expectInterval(after.lift.interval, before.lift.interval, 1e-6)
        expectClose(after.posterior.probabilityBetter, before.posterior.probabilityBetter, 1e-8)
      }),
    )
  })

  test('the always-valid interval contains the fixed one, and its p-value agrees with whether it covers zero', () => {
    fc.assert(
      fc.property(conversions, conversions, (a, b) => {
        const { difference, sequential } = compareArms(a, b, planOf('conversion'))
        if (!sequential.interval || !difference.interval) return
        expect(sequential.interval[0]).toBeLessThanOrEqual(difference.interval[0])
        expect(sequential.interval[1]).toBeGreaterThanOrEqual(difference.interval[1])
        expect(sequential.pValue! < reference.alpha).toBe(sequential.interval[0] > 0 || sequential.interval[1] < 0)
      }),
      { numRuns: 60 },
    )
  })
})

test('values that never vary are not certain: there is no posterior, and it says why', () => {
  const constant = (mean: number) => ({ visitors: 50, mean, variance: 0 })
  const plan = { kind: 'mean', alpha: 0.05, plannedVisitors: { control: 100, variant: 100 } } as const
  const { posterior, sequential } = compareArms(constant(1), constant(2), plan)
  expect(posterior).toMatchObject({
    probabilityBetter: null,
    liftInterval: null,
    why: expect.stringContaining('Within'),
  })
  expect(sequential.why).toMatch(/Within each arm, all visitors have the same value/)
})
