import { expect, test } from 'vitest'
import { drawsFrom } from '../random/draws'
import { seededUniform } from '../random/seededUniform'
import { conversionMoments } from '../statistics/moments'
import { runTrend, type DayCell } from './trend'

const dayOf = (index: number) => new Date(Date.parse('2026-03-04') + index * 86_400_000).toISOString().slice(0, 10)
/** Days of 1,000 visitors in each arm, of whom so many convert. */
const days = (converted: (day: number) => [number, number], count = 28): DayCell[] =>
  Array.from({ length: count }, (_, day) => ({
    day: dayOf(day),
    arms: converted(day).map((each) => conversionMoments(1000, each)),
  }))

test('each week stands alone, from the first day on, and so do weekdays and weekends', () => {
  const { weeks, parts, weeksDiffer, trend } = runTrend(
    'conversion',
    days(() => [100, 110], 16),
    1,
    0.05,
  )
  expect(weeks.map(({ name, days: own, visitors }) => [name, own.length, visitors])).toEqual([
    ['week 1', 7, 14_000],
    ['week 2', 7, 14_000],
    ['week 3', 2, 4000],
  ])
  expect(weeks[2]!.lift.estimate).toBeCloseTo(0.1, 12)
  // March 4, 2026 is a Wednesday.
  expect(parts.map(({ name, days: own }) => [name, own.length])).toEqual([
    ['weekdays', 12],
    ['weekend', 4],
  ])
  expect(weeksDiffer.pValue).toBeCloseTo(1, 6)
  expect(trend!.perWeek).toBeCloseTo(0, 12)
})

test('a lift that shrinks from week to week is told with its pace', () => {
  // The ratio of the two falls by a tenth every week.
  const falling = days((day) => [100, Math.round(1000 * 0.15 * 0.9 ** Math.floor(day / 7))])
  const { trend, weeksDiffer } = runTrend('conversion', falling, 1, 0.05)
  expect(trend!.perWeek).toBeCloseTo(-0.1, 2)
  expect(trend!.interval[1]).toBeLessThan(0)
  expect(trend!.pValue).toBeLessThan(1e-6)
  expect(weeksDiffer.pValue).toBeLessThan(1e-4)
})

test('a result that its first week carries says so, and one that holds does not', () => {
  const carried = runTrend(
    'conversion',
    days((day) => (day < 7 ? [100, 160] : [100, 101])),
    1,
    0.05,
  ).firstWeek!
  expect(carried.carriesResult).toBe(true)
  expect(carried.first.estimate).toBeCloseTo(0.6, 12)
  expect(carried.later.estimate).toBeCloseTo(0.01, 12)
  expect(
    runTrend(
      'conversion',
      days(() => [100, 112]),
      1,
      0.05,
    ).firstWeek!.carriesResult,
  ).toBe(false)
  expect(
    runTrend(
      'conversion',
      days(() => [100, 100]),
      1,
      0.05,
    ).firstWeek!.carriesResult,
  ).toBe(false)
})

test('of lifts that stay the same a trend is told in as many runs as its level says', () => {
  const draws = drawsFrom(seededUniform(41))
  const runs = 600
  let told = 0
  for (let run = 0; run < runs; run++) {
    const simulated = days(() => [draws.binomial(1000, 0.05), draws.binomial(1000, 0.055)], 42)
    if (runTrend('conversion', simulated, 1, 0.05).trend!.pValue < 0.05) told++
  }
  // Three standard errors.
  expect(Math.abs(told / runs - 0.05)).toBeLessThan(0.027)
})

test('nothing is said of too few weeks, or of those without a conversion', () => {
  const short = runTrend(
    'conversion',
    days(() => [0, 0], 5),
    1,
    0.05,
  )
  expect([short.trend, short.firstWeek, short.weeks[0]!.adjustedPValue]).toEqual([null, null, null])
  expect(
    runTrend(
      'conversion',
      days(() => [0, 3], 21),
      1,
      0.05,
    ).trend,
  ).toBe(null)
})
