import { describe, expect, test } from 'vitest'
import { drawsFrom } from '../random/draws'
import { seededUniform } from '../random/seededUniform'
import { dayAfter } from '../time/siteDay'
import { aroundDay, type DayValue } from './aroundDay'

const DAY = '2026-06-03'
/** As many days on each side, by how far they lie from the day. */
const around = (before: number, after: number, value: (away: number) => number | null): DayValue[] =>
  Array.from({ length: before + after + 1 }, (_, index) => index - before).map((away) => ({
    day: dayAfter(DAY, away),
    value: value(away),
  }))
const isWeekend = (away: number) => [0, 6].includes(new Date(`${dayAfter(DAY, away)}T00:00:00Z`).getUTCDay())

describe('a measure around a day', () => {
  test('is compared weekday by weekday, without the day itself', () => {
    // By hand: weekdays 10 and 12, weekends 20 and 24; one more weekend day after it changes no mean.
    const values = around(14, 15, (away) => (away === 0 ? 1000 : (isWeekend(away) ? 20 : 10) * (away > 0 ? 1.2 : 1)))
    const found = aroundDay(values, DAY)!
    expect(found.before).toEqual({ mean: expect.closeTo(90 / 7, 12), days: 14 })
    expect(found.after).toEqual({ mean: expect.closeTo(108 / 7, 12), days: 15 })
    expect(found.lift).toBeCloseTo(0.2, 12)
    // Nothing departs from its weekday.
    expect(found.interval![1] - found.interval![0]).toBeCloseTo(0, 10)
  })

  test('has the interval that its days give', () => {
    // Two weeks on each side, ±1 around 10 and around 11: s² = 28/14 = 2, each mean has s²/14.
    const values = around(
      14,
      14,
      (away) => 10 + (away > 0 ? 1 : 0) + (Math.floor((away + 14 - (away > 0 ? 1 : 0)) / 7) % 2 ? 1 : -1),
    )
    const found = aroundDay(values, DAY)!
    expect(found.lift).toBeCloseTo(0.1, 12)
    const [t, variance, ratio] = [2.144787, 2 / 14, 1.1]
    const g = (t * t * variance) / 100
    const half = (t / 10) * Math.sqrt(variance * (1 - g) + ratio * ratio * variance)
    expect(found.interval![0]).toBeCloseTo((ratio - half) / (1 - g) - 1, 5)
    expect(found.interval![1]).toBeCloseTo((ratio + half) / (1 - g) - 1, 5)
  })

  test('needs days enough, and the same weekdays on both sides', () => {
    expect(
      aroundDay(
        around(14, 3, () => 1),
        DAY,
      ),
    ).toBeNull()
    expect(
      aroundDay(
        around(28, 0, () => 1),
        DAY,
      ),
    ).toBeNull()
    expect(aroundDay([], DAY)).toBeNull()
    const gaps = around(28, 28, (away) => (isWeekend(away) && away > 0 ? null : 5))
    expect(aroundDay(gaps, DAY)).toMatchObject({ before: { mean: 5, days: 20 }, after: { mean: 5, days: 20 } })
    // A measure that was zero has no lift.
    expect(
      aroundDay(
        around(28, 28, (away) => (away > 0 ? 1 : 0)),
        DAY,
      ),
    ).toMatchObject({ lift: null, interval: null })
  })

  test('covers a change as often as it says', () => {
    const draws = drawsFrom(seededUniform(11))
    let covered = 0
    const RUNS = 1000
    for (let run = 0; run < RUNS; run++) {
      const values = around(28, 28, (away) => draws.normal((isWeekend(away) ? 14 : 10) * (away > 0 ? 1.05 : 1), 1))
      const [low, high] = aroundDay(values, DAY)!.interval!
      if (low <= 0.05 && 0.05 <= high) covered++
    }
    // Four standard errors.
    expect(Math.abs(covered / RUNS - 0.95)).toBeLessThan(4 * Math.sqrt((0.95 * 0.05) / RUNS))
  })
})
