import type { ExperimentResults } from '../../shared/experiments/resultsReplies'
import type { ExperimentSheet } from '../../shared/experiments/replies'
import { eq, sql } from 'drizzle-orm'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { heterogeneity } from '../../core/statistics/heterogeneity'
import { dayAfter, siteDays } from '../../core/time/siteDay'
import { connect } from '../../server/database/connect'
import { site } from '../../server/database/schema'
import { findSheet } from '../../server/services/experiments/sheet'
import { readDays } from '../../server/services/results/days'
import { eventsStatement } from '../../server/services/results/explanations/eventsStatement'
import { explainNumber } from '../../server/services/results/explanations/explainNumber'
import { experimentResults } from '../../server/services/results/results'
import { readSegments } from '../../server/services/results/segments'
import { readTrends } from '../../server/services/results/trends'
import { EXPLAINED_NUMBERS } from '../../shared/experiments/explanation'
import { folded, happen, type Happening } from '../arrivals'
import { primaryMetric } from '../metrics'
import { startedExperiment } from '../startedExperiment'
import { createTeam } from './people'
import { ownStack } from './ownStack'
import { HOUR } from '../../core/time/units'

const { databaseUrl } = ownStack()
const database = connect(databaseUrl, 4)
afterAll(() => database.$client.end())

const DAYS = 5
/** Noon: every day has visitors enough, whenever this runs. */
const START = Math.floor(Date.now() / (24 * HOUR)) * 24 * HOUR - (DAYS + 1) * 24 * HOUR + 12 * HOUR
const VISITORS = 600
const COUNTRIES = ['IE', 'GB', 'FR', 'DE', 'ES', 'IT', 'PT', 'NL', 'BE', 'AT', 'CH', 'PL', 'CZ', 'SE', 'NO']
let sheet: ExperimentSheet
let results: ExperimentResults

/** What visitor number `index` is, and does: the variant helps on phones only. */
const variantOf = (index: number) => index % 2
const deviceOf = (index: number) => (index % 4 < 2 ? 'phone' : 'desktop')
const countryOf = (index: number) => COUNTRIES[Math.min(COUNTRIES.length - 1, Math.floor((index % 40) / 2))]!
const turnOf = (index: number) => Math.floor(index / 4) % 10
const isBooked = (index: number) => turnOf(index) < (variantOf(index) === 1 && deviceOf(index) === 'phone' ? 6 : 2)
const atOf = (index: number) => START + ((index * 7) % (DAYS * 24)) * HOUR
/** Whoever books does so at once; some again within two days, or after them. */
const ordersOf = (index: number) => [
  1000,
  ...(index % 3 === 1 ? [40 * HOUR] : []),
  ...(index % 7 === 1 ? [49 * HOUR] : []),
]
const dayOf = (at: number) => siteDays(sheet.timeZone)(at)
/** Whether two whole days have passed since the day of the exposure, and the hour by which a day may be shorter. */
const isWhole = (index: number) => dayAfter(dayOf(atOf(index)), 3) <= dayOf(Date.now() - HOUR)
const visitors = [...Array(VISITORS).keys()]

beforeAll(async () => {
  const team = await createTeam(database)
  const order = { type: 'event', name: 'order' } as const
  const experiment = await startedExperiment(
    database,
    team.site.id,
    START,
    primaryMetric('Bookings', 'conversion', order),
    primaryMetric('Per view', 'ratio', order, {
      role: 'secondary',
      denominator: { type: 'visit', page: { match: 'exact', value: '/' } },
    }),
    primaryMetric('Within two days', 'mean', order, { role: 'secondary', windowDays: 2, cap: 20 }),
  )
  const happenings = visitors.flatMap((index): Happening[] => {
    const visitor = `visitor-${index}`
    const [at, variant] = [atOf(index), variantOf(index)]
    const view = { device: deviceOf(index), country: countryOf(index) }
    const past = index % 3 === 0 ? [{ visitor, at: at - 24 * HOUR, view }] : []
    return [
      ...past,
      { visitor, at, type: 'exposure', experiment, variant, path: '/', view },
      ...(isBooked(index)
        ? ordersOf(index).map(
            (later) => ({ visitor, at: at + later, name: 'order', type: 'custom', amount: 12.5 }) as const,
          )
        : []),
    ]
  })
  await happen(database, team.site, happenings)
  await folded(database, team.site.id)
  sheet = await findSheet(database, team.site.id, experiment)
  results = await experimentResults(database, sheet, new Date())
})

test('days hold every visitor once, by the day of the first exposure', async () => {
  const days = await readDays(database, sheet, new Date())
  const expected = new Map<string, number[]>()
  for (const index of visitors) {
    const day = dayOf(atOf(index))
    const own = expected.get(day) ?? [0, 0]
    if (isBooked(index)) own[variantOf(index)]! += 1
    expected.set(day, own)
  }
  expect(days.map(({ day, metrics }) => [day, metrics[0]!.arms.map(({ sum }) => sum)])).toEqual(
    [...expected].sort(([a], [b]) => (a < b ? -1 : 1)),
  )
  expect(days.flatMap((each) => each.visitors).reduce((sum, count) => sum + count, 0)).toBe(VISITORS)
  const [first] = days
  const [control, variant] = first!.metrics[0]!.arms
  expect(first!.metrics[0]!.lifts[0]!.estimate).toBeCloseTo(variant!.mean! / control!.mean! - 1, 12)
})

test('segments tell where the variant helps, corrected over all of them, and that the values differ', async () => {
  const segments = await readSegments(database, sheet, new Date())
  const device = segments.find(({ dimension }) => dimension === 'device')!.metrics[0]!.comparisons[0]!
  const byValue = new Map(device.readings.map((each) => [each.value, each]))
  expect(byValue.get('phone')).toMatchObject({ visitors: VISITORS / 2, controlMean: 0.2, mean: 0.6 })
  expect(byValue.get('desktop')).toMatchObject({ visitors: VISITORS / 2, controlMean: 0.2, mean: 0.2 })
  expect(device.heterogeneity.pValue).toBeLessThan(0.001)
  expect(heterogeneity([]).pValue).toBeNull()
  const readings = segments.flatMap(({ metrics }) => metrics[0]!.comparisons[0]!.readings)
  for (const { pValue, adjustedPValue } of readings)
    if (pValue !== null) expect(adjustedPValue).toBeGreaterThanOrEqual(pValue)
  // Values with few visitors are told together: nobody is lost.
  const country = segments.find(({ dimension }) => dimension === 'country')!.metrics[0]!.comparisons[0]!.readings
  expect(country.at(-1)!.value).toBeNull()
  expect(country).toHaveLength(13)
  expect(country.reduce((sum, each) => sum + each.visitors, 0)).toBe(VISITORS)
})

test('weeks and weekdays are made of the days of first exposures, and nobody is lost', async () => {
  const days = await readDays(database, sheet, new Date())
  const { week, weekday, trend, firstWeek } = (await readTrends(database, sheet, new Date()))[0]!.comparisons[0]!
  const firstDay = Date.parse(days[0]!.day)
  const expected = (among: (day: string) => boolean) => {
    const arms = days.filter(({ day }) => among(day)).map(({ metrics }) => metrics[0]!.arms)
    const total = (arm: number, of: 'visitors' | 'sum') => arms.reduce((sum, own) => sum + own[arm]![of], 0)
    const mean = (arm: number) => total(arm, 'sum') / total(arm, 'visitors')
    return { visitors: total(0, 'visitors') + total(1, 'visitors'), lift: mean(1) / mean(0) - 1 }
  }
  for (const [place, each] of week.readings.entries()) {
    const own = expected((day) => Math.floor((Date.parse(day) - firstDay) / (7 * 24 * HOUR)) === place)
    expect(each).toMatchObject({ value: `week ${place + 1}`, visitors: own.visitors })
    expect(each.lift.estimate).toBeCloseTo(own.lift, 10)
  }
  const isWeekend = (day: string) => ['Sat', 'Sun'].some((name) => new Date(day).toUTCString().startsWith(name))
  const parts = [
    ['weekdays', expected((day) => !isWeekend(day)).visitors],
    ['weekend', expected(isWeekend).visitors],
  ]
  expect(weekday.readings.map(({ value, visitors }) => [value, visitors])).toEqual(
    parts.filter(([, visitors]) => visitors !== 0),
  )
  for (const { readings } of [week, weekday])
    expect(readings.reduce((sum, { visitors }) => sum + visitors, 0)).toBe(VISITORS)
  expect([trend === null, firstWeek === null]).toEqual([week.readings.length < 3, week.readings.length < 2])
})

test('with an observation window, visitors count once theirs is over, by what they did within it', async () => {
  const valueOf = (index: number) =>
    isBooked(index) ? Math.min(20, 12.5 * ordersOf(index).filter((later) => later <= 2 * 24 * HOUR).length) : 0
  const armsOf = (among: (index: number) => boolean) =>
    [0, 1].map((variant) => {
      const own = visitors.filter((index) => variantOf(index) === variant && isWhole(index) && among(index))
      return { visitors: own.length, sum: own.reduce((sum, index) => sum + valueOf(index), 0) }
    })
  const whole = armsOf(() => true)
  // Some windows are still open, so that the test can fail.
  expect(whole[0]!.visitors).toBeGreaterThan(50)
  expect(whole[0]!.visitors).toBeLessThan(VISITORS / 2 - 50)
  expect(results.metrics[2]!.arms).toMatchObject(whole)
  const segments = await readSegments(database, sheet, new Date())
  const device = segments.find(({ dimension }) => dimension === 'device')!.metrics[2]!.comparisons[0]!
  for (const value of ['phone', 'desktop']) {
    const [control, variant] = armsOf((index) => deviceOf(index) === value)
    const reading = device.readings.find((each) => each.value === value)!
    expect(reading.visitors).toBe(control!.visitors + variant!.visitors)
    expect(reading.controlMean).toBeCloseTo(control!.sum / control!.visitors, 12)
    expect(reading.mean).toBeCloseTo(variant!.sum / variant!.visitors, 12)
  }
  const days = await readDays(database, sheet, new Date())
  expect(days.map(({ metrics }) => metrics[2]!.arms.map((arm) => arm.visitors))).toEqual(
    days.map(({ day }) => armsOf((index) => dayOf(atOf(index)) === day).map((arm) => arm.visitors)),
  )
})

test('the statement behind each number reads what the number is made of', async () => {
  for (const number of EXPLAINED_NUMBERS) {
    for (const { metric, arms } of results.metrics) {
      const reference = { number, metric: metric.versionId, variant: 1, method: 'sequential' as const }
      const explanation = explainNumber(sheet, results, reference, new Date())
      expect(explanation.value).not.toMatch(/NaN|undefined/)
      const { rows } = await database.execute<{ variant: number; visitors: string; sum?: string }>(
        sql.raw(explanation.sql),
      )
      expect(rows.map(({ variant }) => variant)).toEqual([0, 1])
      if (number === 'variance-reduction') {
        const withPast = visitors.filter((index) => index % 3 === 0 && (metric.windowDays === null || isWhole(index)))
        expect(rows.reduce((total, row) => total + Number(row.visitors), 0)).toBe(withPast.length)
        continue
      }
      const counted = number === 'allocation' ? results.arms : arms
      expect(rows.map(({ visitors: count }) => Number(count))).toEqual(counted.map((arm) => arm.visitors))
      if (rows[0]!.sum) expect(rows.map(({ sum: own }) => Number(own))).toEqual(arms.map((arm) => arm.sum))
    }
  }
})

test('what was measured from deleted events says that it cannot be counted again', async () => {
  const asked = { number: 'mean', metric: results.metrics[0]!.metric.versionId, variant: 1, method: 'fixed' } as const
  const ask = () => eventsStatement(database, sheet, asked, new Date())
  expect(await ask()).toMatchObject({ missing: null, sql: expect.stringContaining('FROM page_view') })
  const deleted = (since: Date | null) =>
    database.update(site).set({ rawSince: since }).where(eq(site.id, sheet.siteId))
  await deleted(new Date(START + HOUR))
  expect(await ask()).toMatchObject({ sql: null, missing: expect.stringContaining('are deleted') })
  await deleted(null)
})

test('a number that is not there is refused with the reason', () => {
  const ask = (changes: object) => () =>
    explainNumber(sheet, results, { number: 'lift', metric: 0, variant: 1, method: 'fixed', ...changes }, new Date())
  expect(ask({})).toThrow('not on the sheet')
  const metric = results.metrics[0]!.metric.versionId
  expect(ask({ metric, variant: 0 })).toThrow('no such variant')
  expect(ask({ metric, variant: 7, number: 'mean' })).toThrow('no such variant')
})
