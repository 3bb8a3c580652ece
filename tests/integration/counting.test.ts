import { eq, sql } from 'drizzle-orm'
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import type { MetricSource } from '../../core/measurement/metric'
import type { SheetMetric } from '../../core/sheet/content'
import { connect } from '../../server/database/connect'
import { currencyRate, experiment, site } from '../../server/database/schema'
import { findSheet } from '../../server/services/experiments/sheet'
import { eventsStatement } from '../../server/services/results/explanations/eventsStatement'
import { experimentResults } from '../../server/services/results/results'
import { folded, happen, type Happening } from '../arrivals'
import { primaryMetric } from '../metrics'
import { startedExperiment } from '../startedExperiment'
import { createTeam } from './people'
import { ownStack } from './ownStack'
import { DAY } from '../../core/time/units'

const { databaseUrl } = ownStack()
const database = connect(databaseUrl, 4)
afterAll(() => database.$client.end())

const NOW = Date.now()
const START = NOW - 20 * DAY

const help = { match: 'begins', value: '/help' } as const
const SOURCES: readonly MetricSource[] = [
  { type: 'visit', page: help },
  { type: 'visit', page: { match: 'wildcards', value: '/he*', part: 'path' } },
  { type: 'click', selector: 'main a' },
  { type: 'submit', selector: 'form', page: help },
  { type: 'pageAmount', page: help, selector: '#total', reference: null },
  { type: 'event', name: 'order' },
  { type: 'event', name: 'order', page: help },
  { type: 'event', name: 'order', detail: { name: 'vehicle', is: 'least', number: 2 } },
  { type: 'engagement' },
  { type: 'engagement', page: help },
  { type: 'error' },
  { type: 'timeInView' },
  { type: 'visits' },
  { type: 'bounces' },
  { type: 'visitTime' },
  { type: 'return', days: 3 },
]
/** Each source as it happened or not, as a sum with a cap, and as a ratio within an observation window. */
const METRICS: readonly SheetMetric[] = SOURCES.flatMap((source, index) => [
  primaryMetric(`Happened ${index}`, 'conversion', source),
  primaryMetric(`Sum ${index}`, 'mean', source, { cap: 60 }),
  primaryMetric(`Ratio ${index}`, 'ratio', source, {
    denominator: SOURCES[(index + 5) % SOURCES.length],
    windowDays: 1 + (index % 4),
  }),
])

/** What a visitor of the histories does: one thing at a moment, on one of a few pages, as one of few persons. */
const thing = fc.record({
  visitor: fc.integer({ min: 0, max: 7 }),
  at: fc.integer({ min: -25 * 24 * 4, max: 19 * 24 * 4 }).map((quarters) => START + quarters * 15 * 60_000),
  path: fc.constantFrom('/', '/help', '/help/dogs', '/elsewhere'),
  session: fc.integer({ min: 0, max: 3 }),
  isKnown: fc.boolean(),
  what: fc.constantFrom<Partial<Happening>>(
    {},
    { type: 'click', element: 'html>body>main>a:nth-child(2)' },
    { type: 'click', element: 'html>body>footer>button' },
    { type: 'submit', element: 'html>body>form#booking' },
    { type: 'amount', name: '#total', amount: 19.95, currency: 'GBP', reference: 'A' },
    { type: 'amount', name: '#total', amount: 7, currency: 'EUR' },
    { type: 'custom', name: 'order', amount: 12.5, currency: 'GBP', reference: 'B', details: { vehicle: 3 } },
    { type: 'custom', name: 'order', amount: 30, currency: 'SEK', details: { vehicle: 1 } },
    { type: 'custom', name: 'order', details: { vehicle: 'car' } },
    { type: 'custom', name: 'order', amount: 40, currency: 'EUR', reference: 'B' },
    { type: 'error' },
    { type: 'reading', properties: { seen: 4200, depth: 10, height: 900, bands: [] } as never },
  ),
})

describe.each(['visitor', 'person'] as const)('of each %s', (unit) => {
  let team: Awaited<ReturnType<typeof createTeam>>
  let id: number

  beforeAll(async () => {
    team = await createTeam(database)
    await database.update(site).set({ timeZone: 'Europe/Dublin', currency: 'EUR' }).where(eq(site.id, team.site.id))
    await database.insert(currencyRate).values([
      { siteId: team.site.id, currency: 'GBP', from: '2020-01-01', rate: 1.17 },
      { siteId: team.site.id, currency: 'GBP', from: new Date(START + 5 * DAY).toISOString().slice(0, 10), rate: 1.3 },
    ])
  })

  test('the fold and the statement over views and events count the same', async () => {
    let turn = 0
    await fc.assert(
      fc.asyncProperty(fc.array(thing, { minLength: 30, maxLength: 120 }), async (things) => {
        turn += 1
        const some = Array.from({ length: 6 }, (_, index) => (turn * 6 + index) % SOURCES.length)
        const metrics = some
          .flatMap((place) => METRICS.slice(place * 3, place * 3 + 3))
          .map((metric, index) => ({
            ...metric,
            id: crypto.randomUUID().slice(0, 8),
            role: index === 0 ? ('primary' as const) : ('secondary' as const),
          }))
        id = await startedExperiment(database, team.site.id, START, ...metrics)
        await database
          .update(experiment)
          .set({ terms: sql`jsonb_set(terms, '{unit}', ${JSON.stringify(unit)}::jsonb)` })
          .where(eq(experiment.id, id))
        const happenings = things.map(({ visitor, at, path, session, isKnown, what }): Happening => {
          const person = isKnown ? `person-${turn}-${visitor >> 1}` : null
          return {
            visitor: `${unit}-${turn}-${visitor}`,
            at,
            path,
            ...what,
            view: { sessionId: `session-${session}`, personId: person },
          }
        })
        const exposed = things
          .filter(({ at }) => at >= START)
          .map(({ visitor, at, isKnown, session }): Happening => {
            const person = isKnown ? `person-${turn}-${visitor >> 1}` : null
            return {
              visitor: `${unit}-${turn}-${visitor}`,
              at: at + 60_000,
              type: 'exposure',
              experiment: id,
              variant: visitor % 2,
              path: '/',
              view: { sessionId: `session-${session}`, personId: person },
            }
          })
        // In two portions, so that what came before is added to.
        const all = [...happenings, ...exposed]
        for (const part of [all.filter((_, index) => index % 3 > 0), all.filter((_, index) => index % 3 === 0)]) {
          await happen(database, team.site, part)
          await folded(database, team.site.id)
        }
        const sheet = await findSheet(database, team.site.id, id)
        const now = new Date(NOW)
        const { metrics: read } = await experimentResults(database, sheet, now)
        for (const { metric, arms } of read) {
          const asked = { number: 'mean', metric: metric.versionId, variant: 0, method: 'fixed' } as const
          const { sql: statement } = await eventsStatement(database, sheet, asked, now)
          const { rows } = await database.execute<Record<string, string>>(sql.raw(statement!))
          const told = arms.map((_, variant) => rows.find((row) => Number(row.variant) === variant))
          const numbers = (name: string) => told.map((row) => Number(row?.[name] ?? 0))
          expect({ name: metric.name, visitors: numbers('visitors') }).toEqual({
            name: metric.name,
            visitors: arms.map(({ visitors }) => visitors),
          })
          arms.forEach((arm, variant) => {
            expect(numbers('sum')[variant], `${metric.name}, sum`).toBeCloseTo(arm.sum, 6)
            expect(numbers('denominator_sum')[variant], `${metric.name}, denominator`).toBeCloseTo(arm.denominator, 6)
          })
          const past = await database.execute<{ variant: number; visitors: string; past: string }>(sql`
            SELECT variant, sum(visitors) AS visitors, sum(past_sum) AS past FROM statistic
            WHERE site_id = ${team.site.id} AND experiment_id = ${id} AND metric_version_id = ${metric.versionId}
              AND dimension = 'day' AND has_past AND ${metric.windowDays === null} GROUP BY 1`)
          for (const { variant, visitors, past: sum } of past.rows) {
            expect(numbers('visitors_with_past')[variant], `${metric.name}, with a past`).toBe(Number(visitors))
            expect(numbers('past_sum')[variant], `${metric.name}, past`).toBeCloseTo(Number(sum), 6)
          }
        }
      }),
      { numRuns: 6, endOnFailure: true },
    )
  })
})
