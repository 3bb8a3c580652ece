import { describe, expect, test } from 'vitest'
import { compareArms } from './compareArms'
import {
  comparePosteriors,
  compareWithLiftPrior,
  liftWithVariance,
  posteriorOf,
  probabilityBest,
  shrinkLift,
  type Posterior,
} from './posterior'
import { expectClose } from '../../tests/expectations'
import reference from './reference/reference.json'

const beta = (visitors: number, converted: number) =>
  posteriorOf('conversion', { visitors, mean: converted / visitors, variance: 0 })!

describe('the probability to be best', () => {
  test('of normals, one of them very narrow, agrees with SciPy', () => {
    const { arms, probabilities } = reference.best.normals
    const posteriors = arms.map(([mean, deviation]): Posterior => ({
      family: 'normal',
      mean: mean!,
      variance: deviation! ** 2,
    }))
    probabilityBest(posteriors).forEach((probability, index) => expectClose(probability, probabilities[index]!))
  })

  test('of ten conversion rates agrees with SciPy', () => {
    const { arms, probabilities } = reference.best.ten
    const best = probabilityBest(arms.map(([visitors, converted]) => beta(visitors!, converted!)))
    best.forEach((probability, index) => expectClose(probability, probabilities[index]!))
    expectClose(
      best.reduce((sum, each) => sum + each, 0),
      1,
      1e-9,
    )
  })

  test('is the probability to beat the control where there are two, in both directions', () => {
    const [control, variant] = [beta(1000, 50), beta(900, 60)]
    for (const direction of ['up', 'down'] as const) {
      expectClose(
        probabilityBest([control, variant], direction)[1],
        comparePosteriors(control, variant, 0.05, direction).probabilityBetter,
        1e-9,
      )
    }
  })

  test('of arms that are known exactly', () => {
    const point = (mean: number): Posterior => ({ family: 'normal', mean, variance: 0 })
    expect(probabilityBest([point(1), point(2), point(0)])).toEqual([0, 1, 0])
  })
})

test('the loss of a variant that is surely better keeps its digits far out in the tail', () => {
  // E[max(−D, 0)] for D ~ N(8, 1), from φ(z) − z·Φ(−z) in 30 digits.
  const { expectedLoss } = comparePosteriors(
    { family: 'normal', mean: 0, variance: 0.5 },
    { family: 'normal', mean: 8, variance: 0.5 },
    0.05,
  )
  expectClose(expectedLoss, 7.5502624119465e-17, 1e-6)
})

describe('a prior on lifts', () => {
  test('draws the estimate toward it, less so with more data', () => {
    const prior = { mean: 0, deviation: 0.05 }
    expect(shrinkLift({ mean: 0.1, variance: 0.0025 }, prior)).toEqual({ mean: 0.05, variance: 0.00125 })
    expect(shrinkLift({ mean: 0.1, variance: 0.0001 }, prior).mean).toBeGreaterThan(0.09)
  })

  test('that knows nothing leaves the reading of the lift as it is', () => {
    const control = { visitors: 4000, mean: 10, variance: 400 }
    const variant = { visitors: 4000, mean: 10.6, variance: 420 }
    const plan = { kind: 'mean', alpha: 0.05, plannedVisitors: { control: 5000, variant: 5000 } } as const
    const open = compareArms(control, variant, { ...plan, liftPrior: { mean: 0, deviation: 1e6 } }).posterior
    const { mean, variance } = liftWithVariance({ mean: 10, variance: 0.1 }, { mean: 10.6, variance: 0.105 })
    expectClose(open.liftInterval![0], mean - 1.959963984540054 * Math.sqrt(variance), 1e-6)
    const drawn = compareArms(control, variant, { ...plan, liftPrior: { mean: 0, deviation: 0.02 } }).posterior
    expect(drawn.probabilityBetter!).toBeLessThan(open.probabilityBetter!)
    expect(drawn.liftInterval![1] - drawn.liftInterval![0]).toBeLessThan(open.liftInterval![1] - open.liftInterval![0])
  })

  test('reads a metric whose control is negative the right way round', () => {
    const reading = compareWithLiftPrior(
      { mean: -10, variance: 0.01 },
      { mean: -9, variance: 0.01 },
      { mean: 0, deviation: 1 },
      0.05,
    )
    expect(reading.probabilityBetter!).toBeGreaterThan(0.99)
    expect(reading.expectedLoss!).toBeLessThan(reading.expectedLossOfControl!)
  })
})

test('probabilities stay within 0 and 1, however far apart the arms are', () => {
  for (const [a, b] of [
    [
      [3, 97],
      [900, 100],
    ],
    [
      [1, 5000],
      [4000, 1001],
    ],
    [
      [450, 550],
      [451, 549],
    ],
  ] as const) {
    const posteriors = [a, b].map(([x, y]) => ({ family: 'beta' as const, a: x + 1, b: y + 1 }))
    for (const [one, other] of [posteriors, [...posteriors].reverse()] as [Posterior, Posterior][]) {
      const { probabilityBetter } = comparePosteriors(one!, other!, 0.05)
      expect(probabilityBetter).toBeGreaterThanOrEqual(0)
      expect(probabilityBetter).toBeLessThanOrEqual(1)
    }
    for (const share of probabilityBest(posteriors)) expect(Math.abs(share - 0.5)).toBeLessThanOrEqual(0.5)
  }
})
