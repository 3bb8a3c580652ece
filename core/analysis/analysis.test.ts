import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { expectClose } from '../../tests/expectations'
import reference from '../statistics/reference/reference.json'
import { conversionMoments, momentsOfMean, type Moments } from '../statistics/moments'
import { decide, type DecisionPlan } from '../verdict/verdict'
import { analyze, type AnalysisInput } from './analysis'
import { Tally, type TallyPlan } from './tally'

interface Visitor {
  arm: number
  device: string
  numbers: number[]
}

const TALLY: TallyPlan = {
  arms: 3,
  segments: ['device'],
  metrics: [
    { kind: 'conversion', values: [0], covariate: null, winsorize: null },
    { kind: 'mean', values: [1], covariate: 2, winsorize: { quantile: 0.95, basis: 'above zero' } },
    { kind: 'ratio', values: [3, 4], covariate: null, winsorize: null },
  ],
}
const ROLES = ['primary', 'secondary', 'secondary'] as const

function tallied(visitors: readonly Visitor[], plan = TALLY) {
  const tally = new Tally(plan)
  for (const { arm, device, numbers } of visitors) tally.add(arm, [device], [], numbers)
  return { counts: tally.visitors(), metrics: tally.finish() }
}

function analyzed(visitors: readonly Visitor[], more: Partial<AnalysisInput> = {}) {
  const { counts, metrics } = tallied(visitors)
  return analyze({
    arms: ['control', 'b', 'c'],
    weights: [1, 1, 1],
    visitors: counts,
    alpha: 0.05,
    plannedVisitors: 1000,
    metrics: metrics.map(({ arms, segments }, index) => ({
      name: `m${index}`,
      kind: TALLY.metrics[index]!.kind,
      role: ROLES[index]!,
      direction: 'up',
      arms,
      segments,
      hasCovariate: index === 1,
    })),
    ...more,
  })
}

/** The raw visitors of the reference: bought, revenue, past, clicks, views. */
const VISITORS: Visitor[] = reference.raw.revenue.flatMap((rows, arm) =>
  rows.map(([revenue, past], index) => ({
    arm,
    device: ['phone', 'desktop'][index % 2]!,
    numbers: [reference.raw.bought[arm]![index]![0]!, revenue!, past!, ...reference.raw.ratio[arm]![index]!],
  })),
)

test('a file of visitors comes to the same numbers as the reference', () => {
  const { visitors, metrics } = analyzed(VISITORS)
  expect(visitors).toBe(VISITORS.length)
  expectClose(metrics[2]!.comparisons[0]!.pValue, reference.ratio.pValue)
  expectClose(metrics[2]!.comparisons[0]!.difference.standardError, reference.ratio.standardError)
  const { counts, metrics: plain } = tallied(VISITORS, {
    ...TALLY,
    metrics: TALLY.metrics.map((metric) => ({ ...metric, winsorize: null })),
  })
  const raw = analyze({
    arms: ['control', 'b', 'c'],
    weights: [1, 1, 1],
    visitors: counts,
    alpha: 0.05,
    plannedVisitors: 1000,
    metrics: [
      { name: 'revenue', kind: 'mean', role: 'primary', direction: 'up', arms: plain[1]!.arms, hasCovariate: true },
    ],
  })
  expectClose(raw.metrics[0]!.comparisons[0]!.varianceReduction!.theta, reference.reduced.revenue.theta)
  expectClose(raw.metrics[0]!.comparisons[0]!.varianceReduction!.pValue, reference.reduced.revenue.pValue)
})

test('p-values are adjusted within their family: variants, secondary metrics, segments', () => {
  const { metrics } = analyzed(VISITORS)
  const [first, second] = metrics[0]!.comparisons.map(({ pValue }) => pValue!) as [number, number]
  expectClose(
    Math.min(...metrics[0]!.comparisons.map((each) => each.adjustedPValue!)),
    Math.min(1, 2 * Math.min(first, second)),
    1e-12,
  )
  const secondary = metrics.slice(1).flatMap(({ comparisons }) => comparisons)
  const largest = secondary.reduce((worst, each) => (each.pValue! > worst.pValue! ? each : worst))
  expect(largest.adjustedPValue).toBe(largest.pValue)
  expect(secondary.every((each) => each.adjustedPValue! >= each.pValue!)).toBe(true)
  const { values, heterogeneity } = metrics[0]!.comparisons[0]!.segments!.device!
  expect(Object.keys(values)).toEqual(['desktop', 'phone'])
  expect(heterogeneity.degreesOfFreedom).toBe(1)
  expect(values.phone!.adjustedPValue!).toBeGreaterThanOrEqual(values.phone!.pValue!)
})

test('guardrails are not adjusted, and “down” turns what is best', () => {
  const { counts, metrics } = tallied(VISITORS)
  const of = (direction: 'up' | 'down') =>
    analyze({
      arms: ['control', 'b', 'c'],
      weights: [1, 1, 1],
      visitors: counts,
      alpha: 0.05,
      plannedVisitors: 1000,
      metrics: [
        {
          name: 'bought',
          kind: 'conversion',
          role: 'guardrail',
          direction,
          arms: metrics[0]!.arms,
          hasCovariate: false,
        },
      ],
    }).metrics[0]!
  expect(of('up').comparisons.map(({ adjustedPValue }) => adjustedPValue)).toEqual(
    of('up').comparisons.map(({ pValue }) => pValue),
  )
  const best = (direction: 'up' | 'down') => Object.values(of(direction).probabilityBest) as number[]
  expectClose(
    best('up').reduce((sum, each) => sum + each),
    1,
    1e-9,
  )
  expectClose(
    best('down').reduce((sum, each) => sum + each),
    1,
    1e-9,
  )
  expect(best('up')[0]! > best('up')[2]!).toBe(best('down')[0]! < best('down')[2]!)
})

test('winsorizing states its limit and cuts the covariate’s own values not at all', () => {
  const { metrics } = tallied(VISITORS)
  const above = VISITORS.map(({ numbers }) => numbers[1]!).filter((value) => value > 0)
  expect(metrics[1]!.winsorized!.visitors).toBe(above.filter((value) => value > metrics[1]!.winsorized!.limit).length)
  expect(metrics[1]!.winsorized!.visitors).toBeGreaterThan(0)
  const plain = tallied(VISITORS, {
    ...TALLY,
    metrics: TALLY.metrics.map((metric) => ({
      ...metric,
      winsorize: metric.winsorize && { ...metric.winsorize, quantile: 1 },
    })),
  })
  const none = tallied(VISITORS, { ...TALLY, metrics: TALLY.metrics.map((metric) => ({ ...metric, winsorize: null })) })
  expect(plain.metrics[1]!.arms).toEqual(none.metrics[1]!.arms)
  expect(metrics[1]!.arms[0]!.means[1]).toBe(none.metrics[1]!.arms[0]!.means[1])
})

test('factor levels make cells, whatever the arms are called', () => {
  const tally = new Tally({ arms: 4, segments: [], metrics: [TALLY.metrics[0]!] })
  VISITORS.forEach(({ numbers }, index) =>
    tally.add(index % 4, [], [['plain', 'warm'][index % 2]!, ['top', 'bottom'][(index >> 1) % 2]!], numbers),
  )
  const counts = tally.visitors()
  const [metric] = tally.finish()
  const { factorial } = analyze({
    arms: ['control', 'b', 'c', 'd'],
    weights: [1, 1, 1, 1],
    visitors: counts,
    alpha: 0.05,
    plannedVisitors: 400,
    metrics: [
      {
        name: 'bought',
        kind: 'conversion',
        role: 'primary',
        direction: 'up',
        arms: metric!.arms,
        cells: metric!.cells,
        hasCovariate: false,
      },
    ],
    factors: [
      { name: 'headline', levels: ['plain', 'warm'] },
      { name: 'button', levels: ['top', 'bottom'] },
    ],
  }).metrics[0]!
  expect(factorial!.effects.map(({ levels }) => levels)).toEqual([['warm'], ['bottom'], ['warm', 'bottom']])
  const means = new Map(metric!.cells.map(({ levels, moments }) => [levels.join(), moments.means[0]!]))
  expectClose(
    factorial!.effects[0]!.estimate,
    (means.get('warm,top')! + means.get('warm,bottom')! - means.get('plain,top')! - means.get('plain,bottom')!) / 4,
    1e-9,
  )
})

test('the order of the visitors changes no number', () => {
  const before = JSON.stringify(analyzed(VISITORS), (_, value: unknown) =>
    typeof value === 'number' ? Number(value.toPrecision(8)) : value,
  )
  fc.assert(
    fc.property(fc.shuffledSubarray(VISITORS, { minLength: VISITORS.length }), (shuffled) => {
      expect(
        JSON.stringify(analyzed(shuffled), (_, value: unknown) =>
          typeof value === 'number' ? Number(value.toPrecision(8)) : value,
        ),
      ).toBe(before)
    }),
    { numRuns: 5 },
  )
})

describe('decisions', () => {
  const decision: DecisionPlan = {
    smallestLift: 0.05,
    alpha: 0.05,
    rule: 'sequential',
    lossLimit: 0.01,
    leastWeeks: 1,
    longestWeeks: 4,
    plannedVisitors: 5000,
  }
  const amount = fc.record({
    visitors: fc.integer({ min: 50, max: 5000 }),
    mean: fc.double({ min: 1, max: 20, noNaN: true }),
    deviation: fc.double({ min: 0.5, max: 40, noNaN: true }),
  })
  const rules = fc.constantFrom('sequential' as const, 'fixed' as const, 'low-risk' as const)
  const moments = ({ visitors, mean, deviation }: { visitors: number; mean: number; deviation: number }, unit = 1) =>
    momentsOfMean(visitors, mean * unit, deviation ** 2 * unit * unit * (visitors - 1))

  function decided(arms: readonly Moments[], rule: DecisionPlan['rule']): string {
    const { metrics } = analyze({
      arms: ['control', 'b'],
      weights: [1, 1],
      visitors: arms.map(({ count }) => count),
      alpha: 0.05,
      plannedVisitors: 5000,
      metrics: [{ name: 'amount', kind: 'mean', role: 'primary', direction: 'up', arms, hasCovariate: false }],
    })
    const { lift, sequential, pValue, posterior } = metrics[0]!.comparisons[0]!
    const control = metrics[0]!.arms.control!.mean!
    return decide(
      { ...decision, rule },
      {
        daysRun: 10,
        visitors: 6000,
        unsound: [],
        variants: [
          {
            name: 'b',
            lift: lift.estimate,
            liftInterval: rule === 'fixed' ? lift.interval : sequential.lift.interval,
            adjustedPValue: (rule === 'fixed' ? pValue : sequential.pValue) ?? 1,
            relativeLoss: posterior.expectedLoss! / control,
            guardrails: [],
          },
        ],
      },
    ).kind
  }

  test('do not depend on the unit of the metric', () => {
    fc.assert(
      fc.property(amount, amount, rules, fc.constantFrom(0.01, 1000, 1e6), (control, variant, rule, unit) => {
        expect(decided([moments(control, unit), moments(variant, unit)], rule)).toBe(
          decided([moments(control), moments(variant)], rule),
        )
      }),
    )
  })

  test('never turn from “ship” to anything else when the variant’s mean rises', () => {
    fc.assert(
      fc.property(
        amount,
        amount,
        rules,
        fc.double({ min: 1, max: 3, noNaN: true }),
        (control, variant, rule, factor) => {
          if (decided([moments(control), moments(variant)], rule) === 'ship')
            expect(decided([moments(control), moments({ ...variant, mean: variant.mean * factor })], rule)).toBe('ship')
        },
      ),
    )
  })
})

describe('what cannot be said', () => {
  test('an arm without visitors leaves nulls with reasons, and the others as they are', () => {
    const { metrics, allocation } = analyzed(VISITORS.filter(({ arm }) => arm !== 2))
    expect(metrics[0]!.comparisons[1]).toMatchObject({
      pValue: null,
      adjustedPValue: null,
      difference: { estimate: null, why: expect.stringContaining('no visitors') },
    })
    expect(metrics[0]!.comparisons[0]!.adjustedPValue).toBe(metrics[0]!.comparisons[0]!.pValue)
    expect(Object.values(metrics[0]!.probabilityBest)).toEqual([null, null, null])
    expect(allocation.alarm).toBe(true)
  })
})

describe('whether the values of a segment differ', () => {
  const ofRates = (rates: [control: number, variant: number][]) => {
    const visitors = 50_000
    const moments = (rate: number) => conversionMoments(visitors, Math.round(visitors * rate))
    const { metrics } = analyze({
      arms: ['control', 'b'],
      weights: [1, 1],
      visitors: [visitors * rates.length, visitors * rates.length],
      alpha: 0.05,
      plannedVisitors: 200_000,
      metrics: [
        {
          name: 'purchase',
          kind: 'conversion',
          role: 'primary',
          direction: 'up',
          arms: [conversionMoments(visitors, 1000), conversionMoments(visitors, 1000)],
          hasCovariate: false,
          segments: { device: Object.fromEntries(rates.map((pair, index) => [`value ${index}`, pair.map(moments)])) },
        },
      ],
    })
    return metrics[0]!.comparisons[0]!.segments!.device!.heterogeneity.pValue!
  }

  test('is asked of their lifts: the same lift of a rare and of a frequent event is no difference', () => {
    expect(
      ofRates([
        [0.03, 0.0345],
        [0.09, 0.1035],
      ]),
    ).toBeGreaterThan(0.9)
  })

  test('and the same difference of both is one', () => {
    expect(
      ofRates([
        [0.03, 0.036],
        [0.09, 0.096],
      ]),
    ).toBeLessThan(0.01)
  })
})

test('a plan that adjusts compares the adjusted numbers by every method, and shows the plain ones beside', () => {
  const { counts, metrics } = tallied(VISITORS, {
    ...TALLY,
    metrics: [{ kind: 'conversion', values: [0], covariate: 2, winsorize: null }],
  })
  const of = (isAdjusted: boolean) =>
    analyze({
      arms: ['control', 'b', 'c'],
      weights: [1, 1, 1],
      visitors: counts,
      alpha: 0.05,
      plannedVisitors: 1000,
      metrics: [
        {
          name: 'bought',
          kind: 'conversion',
          role: 'primary',
          direction: 'up',
          arms: metrics[0]!.arms,
          hasCovariate: true,
          isAdjusted,
        },
      ],
    }).metrics[0]!
  const [plain, adjusted] = [of(false), of(true)]
  expect(plain.adjustedArms).toBeNull()
  // What is shown of the arms are conversions, as counted.
  expect(adjusted.arms).toEqual(plain.arms)
  adjusted.comparisons.forEach((comparison, index) => {
    const before = plain.comparisons[index]!
    const { difference, pValue } = before.varianceReduction!
    expectClose(comparison.difference.estimate!, difference.estimate!, 1e-12)
    expectClose(comparison.difference.standardError!, difference.standardError!, 1e-12)
    expectClose(comparison.pValue!, pValue!, 1e-9)
    const [control, variant] = ['control', before.variant].map((arm) => adjusted.adjustedArms![arm]!)
    expectClose(comparison.lift.estimate!, variant!.mean! / control!.mean! - 1, 1e-12)
    const [low, high] = comparison.sequential.interval!
    expectClose((low + high) / 2, difference.estimate!, 1e-9)
    expect(comparison.posterior.probabilityBetter).not.toBe(before.posterior.probabilityBetter)
    expect(comparison.unadjusted).toEqual({
      lift: before.lift,
      difference: before.difference,
      pValue: before.pValue,
    })
    expect(before.unadjusted).toBeUndefined()
  })
})
