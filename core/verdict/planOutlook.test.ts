import { describe, expect, test } from 'vitest'
import { drawsFrom } from '../random/draws'
import { seededUniform } from '../random/seededUniform'
import { sequentialReading } from '../statistics/compareArms'
import { normalQuantile, normalUpperTail } from '../statistics/distributions'
import { spendingBounds } from '../statistics/errorSpending'
import { shipChances, type StandingRun } from './planOutlook'
import type { DecisionRule } from './verdict'

const PLAN = {
  smallestLift: 0.15,
  alpha: 0.05,
  rule: 'sequential' as DecisionRule,
  leastWeeks: 2,
  longestWeeks: 6,
  plannedVisitors: 21_000,
}
const conversions = (rate: number, visitors: number) => ({ mean: rate, variance: rate * (1 - rate), visitors })
const standing = (changes: Partial<StandingRun> = {}): StandingRun => ({
  plan: PLAN,
  direction: 'up',
  weights: [1, 1],
  daysRun: 14,
  visitorsADay: 500,
  arms: [conversions(0.1, 3500), conversions(0.108, 3500)],
  ...changes,
})

/** Whether a run of two arms ships on a day, by the intervals of its rule. */
type Ships = (day: number, control: ReturnType<typeof conversions>, variant: ReturnType<typeof conversions>) => boolean
const shipsSequentially: Ships = (_, control, variant) => {
  const plannedVisitors = { control: 10_500, variant: 10_500 }
  const { lift } = sequentialReading(control, variant, { alpha: 0.05, plannedVisitors })
  return !!lift.interval && lift.interval[0] > 0
}
const DAYS = Array.from({ length: 29 }, (_, index) => 14 + index)
const BOUNDS = spendingBounds(
  DAYS.map((day) => (500 * day) / 21_000),
  { alpha: 0.05 },
  true,
)
const shipsAtLooks: Ships = (day, control, variant) => {
  const variance = control.variance / control.visitors + variant.variance / variant.visitors
  return (variant.mean - control.mean) / Math.sqrt(variance) > BOUNDS[day - 14]!
}

test.each([
  ['sequential', shipsSequentially],
  ['spending', shipsAtLooks],
] as const)('the chance is how often runs of the %s rule that go on from here ship, day by day', (rule, ships) => {
  const run = standing({ plan: { ...PLAN, rule }, looks: [[(500 * 14) / 21_000]] })
  const chance = shipChances(run)[0]!
  const draws = drawsFrom(seededUniform(27))
  const shipped = (lift: number, runs = 1500) => {
    let count = 0
    for (let index = 0; index < runs; index++) {
      const sums = [350, 378]
      for (let day = 15; day <= 42; day++) {
        sums[0]! += draws.binomial(250, 0.1)
        sums[1]! += draws.binomial(250, 0.1 * (1 + lift))
        const visitors = 3500 + 250 * (day - 14)
        const [control, variant] = sums.map((sum) => conversions(sum / visitors, visitors))
        if (ships(day, control!, variant!)) {
          count++
          break
        }
      }
    }
    return count / runs
  }
  const within = (share: number, expected: number) =>
    // Three standard errors, and what the normal distribution and Fieller's interval make of small shares.
    expect(Math.abs(share - expected)).toBeLessThan(3 * Math.sqrt((expected * (1 - expected)) / 1500) + 0.02)
  within(shipped(0.15), chance.worthwhile)
  within(shipped(0.08), chance.asSeen)
  expect(chance.predictive).toBeGreaterThan(0.05)
  expect(chance.predictive).toBeLessThan(chance.worthwhile)
})

test('with one look at the end it is the closed form', () => {
  const run = standing({ plan: { ...PLAN, rule: 'fixed' } })
  const [information, end] = [1 / ((0.09 + 0.108 * 0.892) / 3500), 3]
  const z = 0.008 * Math.sqrt(information)
  const drift = 0.015 * Math.sqrt(information)
  const { worthwhile, predictive } = shipChances(run)[0]!
  const bound = normalQuantile(0.975)
  expect(worthwhile).toBeCloseTo(
    normalUpperTail((bound * Math.sqrt(end) - z - drift * (end - 1)) / Math.sqrt(end - 1)),
    6,
  )
  expect(predictive).toBeCloseTo(normalUpperTail((bound - z * Math.sqrt(end)) / Math.sqrt(end - 1)), 4)
})

describe('what is to come decides', () => {
  test('less is better where the metric says so', () => {
    const down = standing({ direction: 'down', arms: [conversions(0.108, 3500), conversions(0.1, 3500)] })
    expect(shipChances(down)[0]!.asSeen).toBeGreaterThan(shipChances({ ...down, direction: 'up' })[0]!.asSeen + 0.1)
  })

  test('several variants share the error, and fewer days leave less of a chance', () => {
    const [alone] = shipChances(standing())
    const arm = conversions(0.108, 3500)
    const [shared] = shipChances(standing({ weights: [1, 1, 1], arms: [conversions(0.1, 3500), arm, arm] }))
    expect(shared!.asSeen).toBeLessThan(alone!.asSeen)
    expect(shipChances(standing({ daysRun: 40 }))[0]!.asSeen).toBeLessThan(alone!.asSeen)
  })

  test.each([
    ['the run is over', standing({ daysRun: 42 })],
    ['nobody comes', standing({ visitorsADay: 0 })],
    ['nothing varies', standing({ arms: [conversions(0, 3500), conversions(0, 3500)] })],
    ['nobody came', standing({ arms: [conversions(0, 0), conversions(0, 0)] })],
    ['the planned visitors are there', standing({ plan: { ...PLAN, rule: 'fixed', plannedVisitors: 5000 } })],
    ['little that can be lost ships, too', standing({ plan: { ...PLAN, rule: 'low-risk' } })],
  ])('nothing is said where %s', (_, run) => {
    expect(shipChances(run)).toEqual([null])
  })
})
