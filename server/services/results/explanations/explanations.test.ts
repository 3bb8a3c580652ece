import type { MetricResults } from '../../../../shared/experiments/resultsReplies'
import type { ExperimentSheet, MetricView } from '../../../../shared/experiments/replies'
import { describe, expect, test } from 'vitest'
import { analyze } from '../../../../core/analysis/analysis'
import { describeMetric } from '../../../../core/measurement/metric'
import { checkAllocation } from '../../../../core/statistics/allocation'
import { conversionMoments, type Moments } from '../../../../core/statistics/moments'
import { formatInterval } from '../../../../shared/formats'
import {
  explainAllocation,
  explainBest,
  explainInterval,
  explainLift,
  explainLoss,
  explainMean,
  explainPValue,
  explainProbabilityBetter,
  explainReduction,
  explainSum,
  explainVisitors,
  type Place,
  type Words,
} from './explanations'

const sheet = {
  currency: 'EUR',
  variants: [{ name: 'Control' }, { name: 'Warm' }],
  plan: { alpha: 0.05, plannedVisitors: 20_000, smallestLift: 0.05 },
} as unknown as ExperimentSheet
const BOOKED: MetricView = {
  id: 'orders',
  versionId: 1,
  name: 'Bookings',
  kind: 'conversion',
  source: { type: 'visit', page: { match: 'exact', value: '/book/done' } },
  denominator: null,
  cap: null,
  windowDays: null,
  direction: 'up',
  role: 'primary',
  limit: null,
}

function resultsOf(metric: MetricView, arms: Moments[], hasCovariate = false): MetricResults {
  const [read] = analyze({
    arms: ['0', '1'],
    weights: [1, 1],
    visitors: arms.map(({ count }) => count),
    alpha: 0.05,
    plannedVisitors: 20_000,
    metrics: [{ ...metric, arms, hasCovariate }],
  }).metrics
  return {
    metric,
    arms: arms.map(({ count, means }, index) => ({
      visitors: count,
      sum: means[0]! * count,
      denominator: (means[1] ?? 0) * count,
      mean: read!.arms[index]!.mean,
      variance: read!.arms[index]!.variance,
    })),
    comparisons: read!.comparisons,
    probabilityBest: [0, 1].map((arm) => read!.probabilityBest[arm]!),
    adjusted: null,
    withPast: hasCovariate ? 900 : 0,
    factorial: null,
  }
}
const place = (results: MetricResults, position = 1): Place => ({ sheet, results, position })
const input = (explanation: Words, name: string) => explanation.inputs.find((each) => each.name === name)?.value

describe('a conversion', () => {
  const results = resultsOf(BOOKED, [conversionMoments(1000, 100), conversionMoments(1000, 140)])

  test('opens to its definition, inputs and formula', () => {
    expect(explainMean(place(results))).toMatchObject({
      value: '14.00 %',
      definition: expect.stringContaining('visits of /book/done; yes or no, once per visitor'),
      formula: expect.stringContaining('p(1 − p)'),
    })
    expect(input(explainMean(place(results)), 'Conversions')).toBe('140')
    expect(explainLift(place(results))).toMatchObject({
      value: '+40.0 %',
      inputs: [
        { name: 'Control', value: '10.00 % of 1,000 visitors' },
        { name: 'Warm', value: '14.00 % of 1,000 visitors' },
      ],
    })
    expect(explainVisitors(place(results, 0)).value).toBe('1,000')
    expect(explainSum(place(results)).value).toBe('140')
    expect(explainProbabilityBetter(place(results)).formula).toContain('Beta(1 + conversions')
    expect(input(explainBest(place(results)), 'Warm')).toContain('14.00 %')
  })

  test('names the method and its source', () => {
    for (const [method, source] of [
      ['sequential', 'Howard'],
      ['fixed', 'Fieller'],
      ['bayesian', 'Gelman'],
    ] as const) {
      const explanation = explainInterval(place(results), method, formatInterval([0.1, 0.7]))
      expect(explanation.source).toContain(source)
      expect(explanation.value).toBe('+10.0 % to +70.0 %')
      expect(input(explanation, 'Planned visitors')).toBe(method === 'sequential' ? '20,000' : undefined)
    }
    expect(explainPValue(place(results), 'fixed')).toMatchObject({
      value: '0.006',
      formula: expect.stringContaining('pooled'),
    })
    expect(input(explainPValue(place(results), 'sequential'), 'Adjusted for several comparisons')).toContain('Holm')
  })

  test('where less is better, loss and probability are of the other side', () => {
    const down = resultsOf({ ...BOOKED, direction: 'down' }, [
      conversionMoments(1000, 100),
      conversionMoments(1000, 140),
    ])
    expect(explainLoss(place(down)).formula).toBe('E[max(θ − θ₀, 0)]')
    expect(explainProbabilityBetter(place(down)).formula).toContain('θ < θ₀')
    expect(Number.parseFloat(explainProbabilityBetter(place(down)).value)).toBeLessThan(1)
  })
})

test('money, counts and ratios are written in their own unit', () => {
  const arms = [
    { count: 400, means: [5, 2], comoments: [90_000, 4000, 800] },
    { count: 410, means: [5.5, 2.1], comoments: [95_000, 4100, 820] },
  ]
  const money: MetricView = {
    ...BOOKED,
    name: 'Amount per booking',
    kind: 'ratio',
    source: { type: 'pageAmount', page: { match: 'exact', value: '/done' }, selector: '#total' },
    denominator: BOOKED.source,
    role: 'secondary',
  }
  expect(explainMean(place(resultsOf(money, arms), 0))).toMatchObject({
    value: '€2.50',
    source: expect.stringContaining('Deng'),
  })
  expect(input(explainMean(place(resultsOf(money, arms), 0)), 'Sum of the denominator')).toBe('800')
  expect(describeMetric(money)).toContain('divided by visits')
  const clicks: MetricView = { ...money, source: { type: 'click', selector: '#book' } }
  expect(explainMean(place(resultsOf(clicks, arms), 0)).value).toBe('2.5')
  expect(input(explainPValue(place(resultsOf(clicks, arms)), 'fixed'), 'Adjusted for several comparisons')).toContain(
    'Benjamini',
  )
})

test('variance reduction says what it used', () => {
  const arms = [
    { count: 1000, means: [5, 3], comoments: [90_000, 40_000, 50_000] },
    { count: 1000, means: [5.5, 3.1], comoments: [95_000, 41_000, 52_000] },
  ]
  const amount: MetricView = {
    ...BOOKED,
    name: 'Booked amount',
    kind: 'mean',
    source: { type: 'event', name: 'order' },
  }
  const explanation = explainReduction(place(resultsOf(amount, arms, true)))
  expect(explanation.value).toBe('+€0.42')
  expect(input(explanation, 'Visitors with an earlier visit')).toBe('900')
  expect(Number.parseFloat(input(explanation, 'Share of the variance removed')!)).toBeGreaterThan(30)
})

test('the allocation check shows what was expected', () => {
  const explanation = explainAllocation(checkAllocation([600, 400], [1, 1]), ['Control', 'Warm'])
  expect(explanation.inputs[1]).toEqual({ name: 'Warm', value: '400, expected 500' })
  expect(input(explanation, 'χ²')).toMatch(/^40\.00 with 1 degree of freedom/)
})
