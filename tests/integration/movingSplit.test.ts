import { and, eq, sql } from 'drizzle-orm'
import { afterAll, beforeEach, expect, test } from 'vitest'
import { assign } from '../../core/assignment/assignment'
import { DAY, HOUR } from '../../core/time/units'
import type { ExperimentSheet } from '../../shared/experiments/replies'
import { connect } from '../../server/database/connect'
import { allocationPeriod, changeLog, event, experiment } from '../../server/database/schema'
import { fillSheet, type SheetParts } from '../../server/services/experiments/changeSheet'
import { createExperiment, moveExperiment } from '../../server/services/experiments/experiments'
import { findSheet } from '../../server/services/experiments/sheet'
import { experimentResults } from '../../server/services/results/results'
import { refreshSummaries } from '../../server/services/results/summaries'
import { findSiteFile } from '../../server/services/sites/siteFiles'
import { noteFirstReport } from '../../server/services/sites/sites'
import { moveSplits } from '../../server/services/traffic/movingSplits'
import { timeOrderedId } from '../../core/identity/timeOrderedId'
import { folded, happen, type Happening } from '../arrivals'
import { PLAN, primaryMetric } from '../metrics'
import { visitorId } from '../visitorId'
import { createTeam, callerOf } from './people'
import { ownStack } from './ownStack'

const { databaseUrl, url } = ownStack()
const database = connect(databaseUrl, 4)
afterAll(() => database.$client.end())

let team: Awaited<ReturnType<typeof createTeam>>
let id: number
const NOW = Date.now()
const target = () => ({ siteId: team.site.id, experimentId: id, personId: null })
const sheet = () => findSheet(database, team.site.id, id)
const results = async () => {
  await folded(database, team.site.id)
  return experimentResults(database, await sheet(), new Date(NOW))
}

beforeEach(async () => {
  team = await createTeam(database)
  await noteFirstReport(database, team.site.id)
})

async function draft(parts: SheetParts = {}): Promise<void> {
  id = (await createExperiment(database, team.site.id, null, 'Offer')).id
  await fillSheet(database, target(), {
    pageRules: [{ match: 'exact', value: '/' }],
    plan: { ...PLAN, split: 'moving', leastShare: 0.1, leastWeeks: 1, longestWeeks: 2 },
    metrics: [primaryMetric('Orders', 'conversion', { type: 'event', name: 'order' })],
    variants: [
      { name: 'Control', weight: 1, edits: [] },
      { name: 'B', weight: 1, edits: [{ id: 'edit-0000', kind: 'text', selector: 'h1', original: 'a', value: 'b' }] },
    ],
    ...parts,
  })
}

/** Starts it, as if that had been so many days ago. */
async function started(daysAgo: number, parts: SheetParts = {}): Promise<void> {
  await draft(parts)
  await moveExperiment(database, target(), 'start')
  const since = new Date(NOW - daysAgo * DAY)
  await database.update(experiment).set({ startedAt: since }).where(eq(experiment.id, id))
  await database.update(allocationPeriod).set({ since }).where(eq(allocationPeriod.experimentId, id))
}

let visitors = 0
/** Visitors of both arms of a period, of whom so many order. */
const came = (
  period: number,
  at: number,
  arms: readonly (readonly [visitors: number, orders: number])[],
): Happening[] =>
  arms.flatMap(([count, orders], variant) =>
    Array.from({ length: count }, (_, index): Happening => {
      const visitor = `offer-${++visitors}`
      const exposed = { at, type: 'exposure' as const, experiment: id, variant, period }
      const order = { at: at + 1000, type: 'custom' as const, name: 'order', amount: 1 }
      return { visitor, at, events: index < orders ? [exposed, order] : [exposed] }
    }),
  )

test('a split moves to the better variant day by day, for new visitors, and says so', async () => {
  await started(3)
  await happen(
    database,
    team.site,
    came(0, NOW - 3 * DAY + HOUR, [
      [300, 15],
      [300, 60],
    ]),
  )
  await folded(database, team.site.id)
  const version = (await sheet()).version
  // A day of the site is not over after an hour.
  await moveSplits(database, new Date(NOW - 3 * DAY + 2 * HOUR))
  expect((await sheet()).periods).toHaveLength(1)
  await moveSplits(database, new Date(NOW - 2 * DAY + HOUR))
  await moveSplits(database, new Date(NOW - 2 * DAY + 2 * HOUR))
  const { periods, version: after } = await sheet()
  expect(periods.map(({ shares }) => shares)).toEqual([
    [0.5, 0.5],
    [0.1, 0.9],
  ])
  expect(periods[1]!.chances![1]).toBeGreaterThan(0.999)
  expect(after).toBe(version + 1)
  const entry = (await findSiteFile(database, team.site.key))!.entries.find(({ kind }) => kind === 'experiment')
  expect(entry).toMatchObject({ period: 1, weights: [1000, 9000] })
  const said = await database
    .select({ words: changeLog.words })
    .from(changeLog)
    .where(and(eq(changeLog.subjectId, id), eq(changeLog.subject, 'experiment'), eq(changeLog.action, 'changed')))
  expect(said.map(({ words }) => words)).toContainEqual(
    'Split of new visitors: 50 % / 50 % became 10 % / 90 %, as the plan lets it move',
  )
})

test('after as many visitors as the plan says; not while a split is broken, nor once it is paused', async () => {
  await started(1, { plan: { ...PLAN, split: 'moving', batchVisitors: 400, leastShare: 0.2 } })
  await happen(
    database,
    team.site,
    came(0, NOW - DAY, [
      [150, 10],
      [150, 50],
    ]),
  )
  await folded(database, team.site.id)
  await moveSplits(database, new Date(NOW))
  expect((await sheet()).periods).toHaveLength(1)
  await happen(
    database,
    team.site,
    came(0, NOW - HOUR, [
      [60, 4],
      [60, 20],
    ]),
  )
  await folded(database, team.site.id)
  await moveExperiment(database, target(), 'pause')
  await moveSplits(database, new Date(NOW))
  expect((await sheet()).periods).toHaveLength(1)
  await moveExperiment(database, target(), 'resume')
  await moveSplits(database, new Date(NOW))
  expect((await sheet()).periods.map(({ shares }) => shares)).toEqual([
    [0.5, 0.5],
    [0.2, 0.8],
  ])
  // All of the next period get the control, which the weights do not say.
  await happen(
    database,
    team.site,
    came(1, NOW - HOUR / 2, [
      [500, 30],
      [2, 1],
    ]),
  )
  await folded(database, team.site.id)
  await refreshSummaries(database, team.site.id, [id], new Date(NOW))
  expect((await results()).verdict!.kind).toBe('distrust')
  await moveSplits(database, new Date(NOW))
  expect((await sheet()).periods).toHaveLength(2)
})

test('periods are not mixed: a sale that fell to the control’s share raises no arm', async () => {
  await started(2)
  await database
    .insert(allocationPeriod)
    .values({ siteId: team.site.id, experimentId: id, period: 1, since: new Date(NOW - DAY), weights: [9, 1] })
  // Within each period the variant converts a tenth more. In the sale half of all buy, and nine tenths get the control.
  await happen(database, team.site, [
    ...came(0, NOW - 2 * DAY, [
      [1000, 100],
      [1000, 110],
    ]),
    ...came(1, NOW - DAY / 2, [
      [1800, 900],
      [200, 110],
    ]),
  ])
  const { metrics, allocation, periods, verdict } = await results()
  const [{ arms, comparisons }] = metrics as [(typeof metrics)[number]]
  expect(arms.map(({ visitors: count, sum }) => [count, sum])).toEqual([
    [2800, 1000],
    [1200, 220],
  ])
  // As counted, the variant has half the rate of the control.
  expect(arms[1]!.sum / arms[1]!.visitors / (arms[0]!.sum / arms[0]!.visitors)).toBeCloseTo(0.51, 2)
  expect(comparisons[0]!.lift.estimate).toBeCloseTo(0.1, 9)
  expect(arms[1]!.mean! / arms[0]!.mean! - 1).toBeCloseTo(0.1, 9)
  expect(allocation).toMatchObject({ degreesOfFreedom: 2, alarm: false, expected: [2800, 1200] })
  expect(periods).toEqual([
    { visitors: [1000, 1000], means: [0.1, 0.11] },
    { visitors: [1800, 200], means: [0.5, 0.55] },
  ])
  expect(verdict!.kind).not.toBe('distrust')

  // The same from the exposures alone: within each period, weighted by visitors and the root of the harmonic mean.
  const { rows } = await database.execute<{ difference: number; error: number }>(sql`
    WITH v AS (
      SELECT x.period, x.variant, coalesce(v.value, 0)::float8 AS y FROM exposure x
      LEFT JOIN visitor_value v USING (site_id, visitor_id, experiment_id) WHERE x.experiment_id = ${id}
    ), cell AS (SELECT period, variant, avg(y) AS m, var_samp(y) / count(*) AS e, count(*) AS n FROM v GROUP BY 1, 2),
    p AS (
      SELECT a.period, b.m - a.m AS d, a.e + b.e AS e,
        (a.n + b.n) * sqrt(CASE a.period WHEN 0 THEN 0.5 ELSE 2 / (1 / 0.9 + 1 / 0.1) END) AS w
      FROM cell a JOIN cell b USING (period) WHERE a.variant = 0 AND b.variant = 1
    )
    SELECT sum(w * d) / sum(w) AS difference, sqrt(sum(w * w * e)) / sum(w) AS error FROM p`)
  expect(comparisons[0]!.difference.estimate).toBeCloseTo(rows[0]!.difference, 12)
  expect(comparisons[0]!.difference.standardError).toBeCloseTo(rows[0]!.error, 12)

  const viewer = await callerOf(url, team.emails.viewer)
  for (const part of ['days', 'segments', 'trends', 'interactions', 'split']) {
    const answer = await viewer('GET', `/api/sites/${team.site.id}/experiments/${id}/${part}`)
    expect([part, answer.status]).toEqual([part, 409])
  }
})

test('an exposure counts only where the weights of its period would give it', async () => {
  await started(1)
  await database
    .insert(allocationPeriod)
    .values({ siteId: team.site.id, experimentId: id, period: 1, since: new Date(NOW - HOUR), weights: [1000, 9000] })
  // The site file changes with the period, so that intake reads anew what it knows of the site.
  await moveExperiment(database, target(), 'pause')
  await moveExperiment(database, target(), 'resume')
  const { salt } = (await database.select({ salt: experiment.salt }).from(experiment).where(eq(experiment.id, id)))[0]!
  const drawn = (visitor: string, weights: number[]) => assign(visitor, { salt, share: 10_000, weights })
  const names = Array.from({ length: 400 }, (_, index) => visitorId(`drawn-${index}`))
  // Somebody whom the first weights give the control, and the later ones the variant.
  const visitor = names.find((name) => drawn(name, [1, 1]) === 0 && drawn(name, [1, 9]) === 1)!
  const tell = async (variant: number, period?: number) => {
    const at = Date.now()
    const [view, told] = [0, 1].map((n) => timeOrderedId(at + n, n, crypto.getRandomValues(new Uint8Array(8))))
    const body = {
      key: team.site.key,
      sent: at + 1,
      views: [{ id: view, visitor, session: 'session-1234', address: `${team.site.address}/` }],
      events: [
        { id: told, view, type: 'exposure', experiment: id, variant, ...(period === undefined ? {} : { period }) },
      ],
    }
    const headers = { 'content-type': 'text/plain', origin: team.site.address }
    const answer = await fetch(`${url}/collect`, { method: 'POST', headers, body: JSON.stringify(body) })
    return ((await answer.json()) as { refused?: { why: string }[] }).refused?.[0]?.why ?? null
  }
  expect(await tell(0, 0)).toBeNull()
  expect(await tell(1, 1)).toBeNull()
  expect(await tell(1, 0)).toMatch(/variant is not the one/)
  expect(await tell(0, 2)).toMatch(/period is not one/)
  expect(await tell(0)).toMatch(/period is not one/)
  // A program that asks for this visitor is told what they had, and for somebody new what the weights of now give.
  await folded(database, team.site.id)
  const reader = await callerOf(url, team.emails.viewer)
  const decided = async (asked: string) => {
    const body = { visitor: asked, address: '/', facts: {} }
    const answer = await reader('POST', `/api/sites/${team.site.id}/decisions`, body)
    return ((await answer.json()) as { variant: number }[])[0]?.variant
  }
  expect(await decided(visitor)).toBe(0)
  const another = names.find((name) => name !== visitor && drawn(name, [1, 1]) === 0 && drawn(name, [1, 9]) === 1)!
  expect(await decided(another)).toBe(1)
  const kept = await database
    .select({ period: event.period })
    .from(event)
    .where(and(eq(event.siteId, team.site.id), eq(event.type, 'exposure')))
  expect(kept.map(({ period }) => period).sort()).toEqual([0, 1])
})

test.each<[string, SheetParts, RegExp]>([
  [
    'a floor that three cannot keep',
    {
      plan: { ...PLAN, split: 'moving', leastShare: 0.4 },
      variants: ['A', 'B', 'C'].map((name, index) => ({
        name,
        weight: 1,
        edits: index
          ? [{ id: `edit-000${index}`, kind: 'text' as const, selector: 'h1', original: 'a', value: name }]
          : [],
      })),
    },
    /3 variants can keep at most 33.3 % each/,
  ],
  ['an adjustment as well', { plan: { ...PLAN, split: 'moving', adjustedBy: 'past' } }, /Choose one of them/],
  [
    'a ratio',
    {
      metrics: [
        primaryMetric(
          'Ratio',
          'ratio',
          { type: 'event', name: 'order' },
          { denominator: { type: 'event', name: 'view' } },
        ),
      ],
    },
    /cannot follow a ratio/,
  ],
])('%s is told before the start', async (_, parts, why) => {
  await draft(parts)
  const found = (await sheet()).preflight.map(({ text }: ExperimentSheet['preflight'][number]) => text).join(' ')
  expect(found).toMatch(why)
  await expect(moveExperiment(database, target(), 'start')).rejects.toThrow('Preflight')
})
