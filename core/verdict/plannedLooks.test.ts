import { describe, expect, test } from 'vitest'
import { normalQuantile, normalUpperTail } from '../statistics/distributions'
import {
  adjustedForStopping,
  dueLook,
  LEAST_STEP,
  nextLookAfter,
  readPlannedLook,
  takeLook,
  type PlannedLook,
} from './plannedLooks'
import type { DecisionPlan } from './verdict'

const plan: DecisionPlan = {
  smallestLift: 0.1,
  alpha: 0.05,
  rule: 'spending',
  lossLimit: 0.005,
  leastWeeks: 2,
  longestWeeks: 4,
  plannedVisitors: 4000,
}
const WEIGHTS = { control: 1, variant: 1, all: 2 }
/** Two arms of so many visitors each, with the same deviation. */
const arms = (visitors: number, means: readonly [number, number]) => ({
  control: { visitors, mean: means[0], variance: 4 },
  variant: { visitors, mean: means[1], variance: 4 },
})
const run = (daysRun: number, visitors: number) => ({ plan, daysRun, visitors })
const look = (
  daysRun: number,
  each: number,
  means: readonly [number, number],
  earlier: readonly PlannedLook[] = [],
  isLast = false,
) => takeLook(run(daysRun, 2 * each), arms(each, means), WEIGHTS, earlier, isLast)

describe('when a look is due', () => {
  test.each([
    [13, 3000, null, null],
    [14, 3000, null, 'interim'],
    [14, 4000, null, 'last'],
    [28, 100, null, 'last'],
    [15, 3000, { daysRun: 14, isLast: false }, 'interim'],
    [15, 3000, { daysRun: 15, isLast: false }, null],
    // A refresh with an older clock takes none.
    [14, 3000, { daysRun: 15, isLast: false }, null],
    [29, 9000, { daysRun: 28, isLast: true }, null],
  ] as const)('after %i days with %i visitors, the latest being %o: %s', (daysRun, visitors, latest, due) => {
    expect(dueLook(run(daysRun, visitors), latest)).toBe(due)
  })

  test('and when the next is', () => {
    expect(nextLookAfter(run(3, 0), null)).toBe(14)
    expect(nextLookAfter(run(16, 0), { daysRun: 16, isLast: false })).toBe(17)
    expect(nextLookAfter(run(16, 0), { daysRun: 16, isLast: true })).toBe(null)
  })
})

test('a look spends by its share of the planned information, and the last all that is left', () => {
  const first = look(14, 1000, [10, 10])!
  expect(first.share).toBeCloseTo(0.5, 12)
  // What may be spent by then, in a look of its own; Lan and DeMets (1983), by hand.
  const spent = 0.95 * 4 * normalUpperTail(normalQuantile(1 - 0.05 / 4) / Math.sqrt(0.5))
  expect(first.bound).toBeCloseTo(normalQuantile(1 - spent / 2), 6)

  const last = look(28, 1500, [10, 10], [first], true)!
  // Two looks at 0.5 and 0.75 of the plan; the run ends with less than was planned, and 0.05 is spent all the same.
  const crossings = simulated([2 / 3, 1], [first.bound!, last.bound!])
  expect(Math.abs(crossings - 0.05)).toBeLessThan(0.003)
})

/** Share of 200,000 runs without a difference that cross a boundary: by its own arithmetic. */
function simulated(fractions: readonly number[], bounds: readonly number[]): number {
  let seed = 12345
  const uniform = () => (seed = (seed * 48271) % 2147483647) / 2147483647
  const normal = () => Math.sqrt(-2 * Math.log(uniform())) * Math.cos(2 * Math.PI * uniform())
  let crossed = 0
  for (let index = 0; index < 200_000; index++) {
    let [score, before] = [0, 0]
    const isOut = fractions.some((fraction, at) => {
      score += Math.sqrt(fraction - before) * normal()
      before = fraction
      return Math.abs(score / Math.sqrt(fraction)) > bounds[at]!
    })
    if (isOut) crossed++
  }
  return crossed / 200_000
}

test('a day that brings hardly anything is no look, but for the last, which takes the place of the one before', () => {
  const first = look(14, 1000, [10, 10])!
  const little = 1000 + Math.floor(2000 * LEAST_STEP) - 1
  expect(look(15, little, [10, 10], [first])).toBe(null)
  const last = look(28, little, [10, 10], [first], true)!
  expect(last.bound).toBeCloseTo(normalQuantile(0.975), 4)
})

test('nothing is said where nothing varies', () => {
  const still = { visitors: 1000, mean: 1, variance: 0 }
  expect(takeLook(run(14, 2000), { control: still, variant: still }, WEIGHTS, [], false)).toBe(null)
})

test('interval, p-value and boundary agree, and what stopped early is not overstated', () => {
  const first = look(14, 1000, [10, 10.1])!
  const second = look(16, 1300, [10, 10.25], [first])!
  const read = readPlannedLook(second)
  const error = Math.sqrt(8 / 1300)
  expect(read.interval![0]).toBeCloseTo(0.25 - second.bound! * error, 10)
  expect(read.interval![0]).toBeGreaterThan(0)
  expect(read.pValue).toBeLessThan(0.05)
  expect(read.lift.interval![0]).toBeGreaterThan(0)
  expect(read.lift.estimate).toBeCloseTo(0.025, 10)
  expect(read.adjusted!.lift).toBeLessThan(0.025)
  expect(read.adjusted!.lift).toBeGreaterThan(0.015)
  // Whoever goes on has not stopped there, or anywhere later.
  expect(first.adjusted).toBe(null)
  expect(look(17, 1400, [10, 10.25], [first, second])!.adjusted).toBe(null)
  // Of three variants it stops where a third of the error is crossed, and not before.
  const ofThree = (each: number, mean: number, earlier: readonly PlannedLook[]) =>
    takeLook({ ...run(16, 8 * each), variants: 3 }, arms(each, [10, mean]), WEIGHTS, earlier, false)!
  const shy = ofThree(1300, 10 + (second.bound! + 0.05) * error, [first])
  expect([shy.pValue < 0.05, shy.pValue > 0.05 / 3, shy.adjusted]).toEqual([true, true, null])
  expect(ofThree(1400, 10.3, [first, shy]).adjusted).not.toBe(null)
  // Mirrored, where less is better.
  const mirrored = readPlannedLook(look(16, 1300, [10, 9.75], [look(14, 1000, [10, 9.9])!])!)
  expect(mirrored.adjusted!.lift).toBeCloseTo(-read.adjusted!.lift, 6)
  expect(mirrored.pValue).toBeCloseTo(read.pValue, 10)
})

test('whoever stops where no boundary was crossed has an adjusted lift, too', () => {
  const first = look(14, 1000, [10, 10.1])!
  const second = look(16, 1300, [10, 10.12], [first])!
  expect([first.adjusted, second.adjusted]).toEqual([null, null])
  const adjusted = adjustedForStopping([first, second], { alpha: 0.05, variants: 1 })!
  // The boundaries before were far away: hardly anything had stopped there, so hardly anything is to be adjusted.
  expect(adjusted.lift).toBeCloseTo(0.012, 3)
  expect(adjusted.interval[0]).toBeLessThan(0)
  expect(adjusted.interval[1]).toBeGreaterThan(0.012)
  // One that was crossed is the same as what the look itself says.
  const crossing = look(16, 1300, [10, 10.25], [first])!
  const again = adjustedForStopping([first, crossing], { alpha: 0.05, variants: 1 })!
  expect(again.lift).toBeCloseTo(crossing.adjusted!.lift, 4)
})
