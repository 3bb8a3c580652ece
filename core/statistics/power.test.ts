import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { runLength } from './duration'
import { tTestPower } from './noncentralT'
import { detectableLift, powerOf, sampleSize, type PowerPlan } from './power'
import { expectClose } from '../../tests/expectations'
import reference from './reference/reference.json'

const conversion = (more: Partial<PowerPlan> = {}): PowerPlan => ({
  metric: { kind: 'conversion', baseline: 0.05 },
  alpha: 0.05,
  weights: [1, 1],
  looks: { rule: 'fixed' },
  ...more,
})
const mean = (more: Partial<PowerPlan> = {}): PowerPlan =>
  conversion({ metric: { kind: 'mean', mean: 10, deviation: 25 }, ...more })

test.each(reference.powerOfT)('the power of a t test agrees with statsmodels: $input', ({ input, power }) => {
  const [first, second, effect] = input as [number, number, number]
  expectClose(tTestPower(effect * Math.sqrt(1 / (1 / first + 1 / second)), first + second - 2, 0.05), power)
})

describe('sample sizes', () => {
  test('of a published example, and split by the weights', () => {
    expect(sampleSize(conversion(), 0.1, 0.8)).toEqual([31234, 31234])
    const [control, variant] = sampleSize(conversion({ weights: [2, 1] }), 0.1, 0.8) as [number, number]
    expect(control / variant).toBeCloseTo(2, 3)
    expect(control).toBeGreaterThan(31234)
  })

  test('are the smallest that reach the power', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(conversion(), mean(), mean({ weights: [3, 1] })),
        fc.double({ min: 0.05, max: 0.5, noNaN: true }),
        fc.double({ min: 0.5, max: 0.97, noNaN: true }),
        (plan, lift, power) => {
          const [control] = sampleSize(plan, lift, power) as [number]
          const total = (visitors: number) =>
            (visitors * plan.weights.reduce((sum, weight) => sum + weight, 0)) / plan.weights[0]!
          expect(powerOf(plan, lift, total(control))).toBeGreaterThanOrEqual(power - 1e-7)
          expect(powerOf(plan, lift, total(control - 1))).toBeLessThan(power + 1e-7)
        },
      ),
      { numRuns: 25 },
    )
  })

  test('come back as the lift that they find', () => {
    for (const plan of [conversion(), mean(), conversion({ looks: { rule: 'obrien-fleming', looks: 4 } })]) {
      const total = sampleSize(plan, 0.1, 0.8).reduce((sum, count) => sum + count, 0)
      expectClose(detectableLift(plan, total, 0.8), 0.1, 1e-4)
    }
    expect(detectableLift(conversion({ metric: { kind: 'conversion', baseline: 0.9 } }), 20, 0.8)).toBeNull()
  })

  test('divide the error among variants, and grow by what looking costs', () => {
    expect(sampleSize(conversion({ weights: [1, 1, 1] }), 0.1, 0.8)[0]).toBe(
      sampleSize(conversion({ alpha: 0.025 }), 0.1, 0.8)[0],
    )
    const factor = (looks: PowerPlan['looks']) =>
      sampleSize(conversion({ looks }), 0.1, 0.9)[0]! / sampleSize(conversion(), 0.1, 0.9)[0]!
    expect(factor({ rule: 'obrien-fleming', looks: 5 })).toBeGreaterThan(1.01)
    expect(factor({ rule: 'pocock', looks: 5 })).toBeGreaterThan(factor({ rule: 'obrien-fleming', looks: 5 }))
    expect(factor({ rule: 'sequential', looks: 28 })).toBeGreaterThan(factor({ rule: 'pocock', looks: 5 }))
  })

  test.each<[string, () => unknown, RegExp]>([
    [
      'baseline',
      () => sampleSize(conversion({ metric: { kind: 'conversion', baseline: 1 } }), 0.1, 0.8),
      /between 0 and 1/,
    ],
    ['lift of zero', () => sampleSize(conversion(), 0, 0.8), /not be zero/],
    ['rate above one', () => sampleSize(conversion(), 30, 0.8), /between 0 and 1/],
    ['deviation', () => sampleSize(mean({ metric: { kind: 'mean', mean: 1, deviation: 0 } }), 0.1, 0.8), /above zero/],
    [
      'mean of zero',
      () => sampleSize(mean({ metric: { kind: 'mean', mean: 0, deviation: 1 } }), 0.1, 0.8),
      /must not be zero/,
    ],
    ['weights', () => sampleSize(conversion({ weights: [1, 0] }), 0.1, 0.8), /above zero/],
    ['alpha', () => sampleSize(conversion({ alpha: 1 }), 0.1, 0.8), /error level/],
    ['power', () => sampleSize(conversion(), 0.1, 1), /power/],
    ['looks', () => sampleSize(conversion({ looks: { rule: 'pocock', looks: 0 } }), 0.1, 0.8), /looks/],
  ])('refuse an impossible %s', (_, attempt, message) => expect(attempt).toThrow(message))
})

test('a run is as long as its curve of new visitors takes, in whole weeks', () => {
  expect(runLength(5000, [900])).toEqual({ days: 6, weeks: 1 })
  // Many come on the first days; then the last week repeats.
  const curve = [2000, 1500, 1000, ...[100, 200, 300, 400, 500, 600, 700]]
  expect(runLength(4500, curve)).toEqual({ days: 3, weeks: 1 })
  expect(runLength(4500 + 2800 + 2800 + 101, curve)).toEqual({ days: 19, weeks: 3 })
  expect(runLength(10, [0, 0])).toBeNull()
  expect(runLength(0, [5])).toEqual({ days: 0, weeks: 0 })
})
