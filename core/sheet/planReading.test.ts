import { describe, expect, test } from 'vitest'
import { sampleSize } from '../statistics/power'
import { DEFAULT_PLAN } from './defaultPlan'
import {
  decidedPlan,
  planFindings,
  readPlan,
  reducedMetric,
  ruleCosts,
  type Forecast,
  type PlannedSheet,
  visitorsWithin,
  weeksUntil,
} from './planReading'

const sheet: PlannedSheet = {
  plan: { ...DEFAULT_PLAN, smallestLift: 0.1 },
  kind: 'conversion',
  weights: [1, 1],
  share: 10_000,
}
const busy: Forecast = { days: 28, visitors: 80_000, sampled: 4000, mean: 0.08, deviation: 0.27 }
const needed = sampleSize(
  {
    metric: { kind: 'conversion', baseline: 0.08 },
    alpha: 0.05,
    weights: [1, 1],
    looks: { rule: 'spending', looks: 8, from: 2 / 6 },
  },
  0.1,
  0.8,
).reduce((sum, arm) => sum + arm)
const textsOf = (planned: PlannedSheet, forecast: Forecast | null) =>
  planFindings(planned.plan, readPlan(planned, forecast)).map(({ text, isStop }) => [isStop, text])

describe('what is not typed is computed from the traffic', () => {
  test('as many visitors as the lift needs, where they come within the longest run', () => {
    const reading = readPlan(sheet, busy)
    expect(reading).toMatchObject({ baseline: 0.08, visitorsAWeek: 20_000, needed, plannedVisitors: needed })
    expect(reading.power).toBeCloseTo(0.8, 2)
    expect(reading.visibleLift).toBeCloseTo(0.1, 2)
    expect(reading.weeks).toBeCloseTo(needed / 20_000, 6)
    expect(textsOf(sheet, busy)).toEqual([])
  })

  test('and no more than come; then it says what would show, and what is missing', () => {
    const quiet = { ...busy, visitors: 8000 }
    expect(readPlan(sheet, quiet).plannedVisitors).toBe(12_000)
    const [[isStop, text]] = textsOf(sheet, quiet) as [[boolean, string]]
    expect(isStop).toBe(false)
    expect(text).toMatch(
      new RegExp(
        `^12,000 visitors show a lift of 10 % in \\d+ of 100 runs; ${needed.toLocaleString('en-US')} are needed`,
      ),
    )
  })

  test('a share of the traffic brings a share of the visitors', () => {
    expect(readPlan({ ...sheet, share: 2500 }, busy).visitorsAWeek).toBe(5000)
  })

  test('means take their deviation from the traffic too', () => {
    const reading = readPlan({ ...sheet, kind: 'mean' }, { ...busy, mean: 12, deviation: 40 })
    expect(reading).toMatchObject({ mean: 12, deviation: 40, baseline: null })
    expect(reading.needed).toBeGreaterThan(1000)
  })
})

test('what each rule costs, to choose by', () => {
  const costs = ruleCosts(sheet, { kind: 'conversion', baseline: 0.08 }, 0)
  const [spending, sequential, fixed] = costs
  expect(costs.map(({ rule }) => rule)).toEqual(['spending', 'sequential', 'fixed'])
  expect(fixed!.onAverage).toBe(fixed!.atMost)
  // Against one look of the same power, as docs/statistics.md has it.
  expect(spending!.atMost / fixed!.atMost).toBeLessThan(1.08)
  expect(spending!.onAverage / fixed!.atMost).toBeLessThan(0.82)
  expect(sequential!.atMost / fixed!.atMost).toBeGreaterThan(1.6)
  expect(sequential!.onAverage).toBeGreaterThan(1.2 * spending!.onAverage)
  expect(ruleCosts(sheet, null, 0)).toEqual([])
})

test('a plan that adjusts counts with the variance that was removed lately, and says where that is not known', () => {
  const adjusted = { ...sheet, plan: { ...sheet.plan, adjustedBy: 'past' as const } }
  const expectation = { explained: 0.4 } as Forecast['expectation']
  const forecast = { ...busy, expectation }
  const reading = readPlan(adjusted, forecast)
  expect(reading).toMatchObject({
    removed: 0.4,
    needed: Math.ceil(needed * 0.6),
    plannedVisitors: Math.ceil(needed * 0.6),
  })
  expect(reading.power).toBeCloseTo(0.8, 2)
  expect(reading.visibleLift).toBeCloseTo(0.1, 2)
  expect(textsOf(adjusted, forecast)).toEqual([])
  const metric = { kind: 'conversion', baseline: 0.08 } as const
  const [before, after] = [0, 0.4].map((removed) => ruleCosts(sheet, metric, removed)[0]!)
  expect(after!.onAverage).toBeCloseTo(before!.onAverage * 0.6, 6)
  expect(reducedMetric(metric, 0.4)).toEqual({ kind: 'mean', mean: 0.08, deviation: Math.sqrt(0.08 * 0.92 * 0.6) })
  expect(reducedMetric(metric, 0)).toBe(metric)
  // Who adjusts by nothing has nothing removed; without a model nothing is, and it is told.
  expect(readPlan(sheet, forecast)).toMatchObject({ removed: 0, needed })
  expect(readPlan(adjusted, busy)).toMatchObject({ removed: null, needed })
  expect(textsOf(adjusted, busy)).toEqual([[false, expect.stringMatching(/^Too few visitors came/)]])
})

test('a plan whose split moves is computed as if it stayed, and says so', () => {
  const moving = { ...sheet, plan: { ...sheet.plan, split: 'moving' as const } }
  expect(readPlan(moving, busy)).toEqual(readPlan(sheet, busy))
  expect(textsOf(moving, busy)).toEqual([[false, expect.stringMatching(/^These numbers are for a split that stays/)]])
})

test('what was typed goes before', () => {
  const typed = { ...sheet, plan: { ...sheet.plan, baseline: 0.2, plannedVisitors: 2 } }
  expect(readPlan(typed, busy)).toMatchObject({ baseline: 0.2, plannedVisitors: 2 })
  const [[, text]] = textsOf(typed, busy) as [[boolean, string]]
  expect(text).toMatch(/^2 visitors show a lift of 10 % in \d of 100 runs; .* are needed for 80/)
})

test('a plan that takes longer than the longest run says how long', () => {
  const slow = { ...sheet, plan: { ...sheet.plan, plannedVisitors: 400_000 } }
  expect(textsOf(slow, busy)).toEqual([[false, expect.stringMatching(/^400,000 visitors take 20 weeks: 20,000 come/)]])
  const small = { ...sheet, plan: { ...sheet.plan, plannedVisitors: 200 } }
  const said = (visitors: number) => textsOf(small, { ...busy, visitors }).map(([, text]) => text)
  expect(said(1)).toContainEqual(expect.stringMatching(/^200 visitors take [\d,]+ weeks: less than one comes to these/))
  expect(said(4)).toContainEqual(expect.stringMatching(/weeks: 1 comes to these pages in a week/))
})

test.each<[string, Forecast | null]>([
  ['before anything is known', null],
  ['without a visitor', { days: 28, visitors: 0, sampled: 0, mean: null, deviation: null }],
  ['with a handful of visitors', { ...busy, visitors: 20 }],
])('%s the visitors have to be typed before the start', (_, forecast) => {
  expect(readPlan(sheet, forecast)).toMatchObject({ plannedVisitors: null, power: null, weeks: null })
  expect(textsOf(sheet, forecast)).toEqual([[true, expect.stringContaining('Say how many visitors')]])
  expect(() => decidedPlan(sheet.plan)).toThrow(RangeError)
})

test('further weeks bring as many as the last one did: those who came before are not new', () => {
  const forecast: Forecast = { ...busy, visitors: 1000, firstSeen: [0.4, 0.25, 0.2, 0.15] }
  for (const [weeks, visitors] of [
    [1, 400],
    [4, 1000],
    [6, 1300],
  ] as const)
    expect(visitorsWithin(forecast, weeks)).toBeCloseTo(visitors, 10)
  expect(visitorsWithin(forecast, 1.5)).toBeCloseTo(525, 10)
  expect(weeksUntil(forecast, 1299)).toBe(6)
  expect(weeksUntil(forecast, 1e9)).toBeNull()
  // Without knowing when they came first, each week is taken to be alike.
  expect(visitorsWithin({ ...forecast, firstSeen: undefined }, 6)).toBe(1500)
})
