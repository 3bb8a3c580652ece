import { eq, sql } from 'drizzle-orm'
import { afterAll, beforeAll, beforeEach, expect, test } from 'vitest'
import { isHeldOut } from '../../core/targeting/whyNot'
import { DAY, HOUR } from '../../core/time/units'
import { connect } from '../../server/database/connect'
import { experiment, holdout } from '../../server/database/schema'
import { createArchive } from '../../server/services/evidence/archive'
import type { EvidenceThread } from '../../server/services/evidence/askEvidence'
import { fillSheet } from '../../server/services/experiments/changeSheet'
import { createExperiment, moveExperiment } from '../../server/services/experiments/experiments'
import { findSheet } from '../../server/services/experiments/sheet'
import { changesOf } from '../../server/services/changes'
import { endExperiment } from '../../server/services/experiments/endExperiment'
import { readThread } from '../../server/services/hypotheses/archiveAnswers'
import { changeRollout, listRollouts } from '../../server/services/rollouts/rollouts'
import { experimentResults } from '../../server/services/results/results'
import { findSiteFile } from '../../server/services/sites/siteFiles'
import { noteFirstReport } from '../../server/services/sites/sites'
import { closeHoldout, createHoldout, listHoldouts } from '../../server/services/traffic/holdouts'
import { readHoldout } from '../../server/services/traffic/readHoldout'
import { holdoutReadingReply } from '../../shared/traffic/holdoutReading'
import { folded, happen, type Happening } from '../arrivals'
import { PLAN, primaryMetric } from '../metrics'
import { createTeam } from './people'
import { ownStack } from './ownStack'

const database = connect(ownStack().databaseUrl, 3)
const archive = createArchive(database.$client)
const evidence = {
  ask: (site: number, ask: never, question: never) => archive.answer(site, ask, question),
} as unknown as EvidenceThread
const ORDER = { type: 'event', name: 'order' } as const
const HOME = { type: 'visit', page: { match: 'exact', value: '/' } } as const
const VISITORS = 1500
let team: Awaited<ReturnType<typeof createTeam>>
let siteId: number
beforeAll(() => Object.assign(globalThis, { __WITH_RULES__: true }))
afterAll(() => database.$client.end())
beforeEach(async () => {
  team = await createTeam(database)
  siteId = team.site.id
  await noteFirstReport(database, siteId)
})
const place = () => ({ database, evidence, siteId })

/** A holdout of a fifth that began 40 days ago, and an experiment that began two days later. */
async function begun(): Promise<{ id: number; experimentId: number; isOut: (visitor: string) => boolean }> {
  const start = new Date(Date.now() - 40 * DAY)
  const [made] = await createHoldout(
    database,
    siteId,
    null,
    { name: 'Autumn', share: 2000, until: '2031-01-01' },
    start,
  )
  const [row] = await database.select().from(holdout).where(eq(holdout.id, made!.id))
  const { id: experimentId } = await createExperiment(database, siteId, null, 'Headline')
  const target = { siteId, experimentId, personId: null }
  await fillSheet(database, target, {
    pageRules: [{ match: 'exact', value: '/' }],
    plan: PLAN,
    metrics: [
      primaryMetric('Orders', 'conversion', ORDER),
      { ...primaryMetric('Revenue', 'mean', ORDER), role: 'secondary' as const, cap: 50 },
      { ...primaryMetric('First week', 'mean', ORDER), role: 'secondary' as const, windowDays: 7 },
      {
        ...primaryMetric('A view', 'ratio', ORDER),
        id: 'held-ratio',
        role: 'secondary' as const,
        denominator: HOME,
      },
    ].map((metric, index) => ({ ...metric, id: `held-${siteId}-${index}` })),
    variants: [
      { name: 'Control', weight: 1, edits: [] },
      {
        name: 'New words',
        weight: 1,
        edits: [{ id: 'edit-held-0000', kind: 'text', selector: 'h1', original: 'a', value: 'b' }],
      },
    ],
  })
  await moveExperiment(database, target, 'start')
  await database
    .update(experiment)
    .set({ startedAt: new Date(start.getTime() + 2 * DAY) })
    .where(eq(experiment.id, experimentId))
  return { id: made!.id, experimentId, isOut: (visitor) => isHeldOut(visitor, row!) }
}

/** Visitors over 36 days: of the variant two fifths order, of all others a fifth; some come again. */
async function visited(experimentId: number, isOut: (visitor: string) => boolean): Promise<void> {
  const from = Date.now() - 37 * DAY
  const happenings = [...Array(VISITORS).keys()].flatMap((index): Happening[] => {
    const visitor = `visitor-${index}`
    const at = from + (index % 36) * DAY + (index % 7) * HOUR
    const variant = isOut(visitor) ? null : index % 2
    const orders = (index >> 1) % 10 < (variant === 1 ? 4 : 2)
    const order = (later: number, amount: number) =>
      ({ at: at + later, type: 'custom', name: 'order', amount, reference: `${index} ${later}` }) as const
    const view = { sessionId: `session-${index}`, isRobot: index % 100 === 99 }
    const met = variant === null ? [] : [{ at, type: 'exposure' as const, experiment: experimentId, variant }]
    const own: Happening = {
      visitor,
      at,
      path: '/',
      view,
      events: [...met, ...(orders ? [order(60_000, 20 + (index % 3))] : [])],
    }
    if (!orders || index % 4 !== 0) return [own]
    const again = { ...view, sessionId: `session-${index}-again`, visit: 2 }
    return [own, { visitor, at: at + 9 * DAY, path: '/', view: again, events: [order(9 * DAY + 60_000, 35)] }]
  })
  await happen(
    database,
    team.site,
    happenings.filter(({ at }) => at < Date.now() - HOUR),
  )
  await folded(database, siteId)
}

/** What stands in views and events of those who are in the numbers, by visitor. */
async function rowsOf(days: number | null, cap: number) {
  const { rows } = await database.execute<{
    visitor: string
    orders: number
    views: number
    amount: number
    whole: number
    first: number
  }>(sql`
    SELECT v.id AS visitor, min(date_part('epoch', p.occurred_at)) * 1000 AS first, count(*)::int AS views,
      (SELECT count(*)::int FROM event e WHERE e.site_id = ${siteId} AND e.visitor_id = v.id AND e.name = 'order') AS orders,
      (SELECT coalesce(sum(e.amount), 0)::float8 FROM event e WHERE e.site_id = ${siteId} AND e.visitor_id = v.id
        AND e.name = 'order') AS whole,
      least(${cap}, (SELECT coalesce(sum(e.amount), 0) FROM event e WHERE e.site_id = ${siteId} AND e.visitor_id = v.id
        AND e.name = 'order' AND (${days}::int IS NULL OR e.occurred_at <= (
          SELECT min(occurred_at) FROM page_view f WHERE f.site_id = ${siteId} AND f.visitor_id = v.id
        ) + make_interval(days => ${days}::int))))::float8 AS amount
    FROM visitor v JOIN page_view p ON p.site_id = ${siteId} AND p.visitor_id = v.id
    WHERE v.site_id = ${siteId} AND v.left_out IS NULL GROUP BY v.id`)
  return rows
}
const sumOf = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0)
const meanOf = (values: readonly number[]) => sumOf(values) / values.length

test('those who are held out are read against all others, whoever met what, as the raw rows say; single effects add up beside it', async () => {
  const { id, experimentId, isOut } = await begun()
  await visited(experimentId, isOut)
  const now = new Date()
  const reading = await readHoldout(place(), id, now)
  expect(holdoutReadingReply.validateSync(reading)).toEqual(reading)

  const rows = await rowsOf(null, 50)
  const [out, others] = [rows.filter(({ visitor }) => isOut(visitor)), rows.filter(({ visitor }) => !isOut(visitor))]
  expect(reading.visitors).toEqual([out.length, others.length])
  expect(out.length).toBeGreaterThan(200)
  const read = (name: string) => reading.metrics.find(({ metric }) => metric.name === name)!
  const meansOf = (name: string) => read(name).arms.map(({ mean }) => mean)
  const rateOf = (of: typeof rows) => meanOf(of.map(({ orders }) => Math.min(1, orders)))
  expect(meansOf('Orders')).toEqual([expect.closeTo(rateOf(out), 12), expect.closeTo(rateOf(others), 12)])
  expect(read('Orders').lift.estimate).toBeCloseTo(rateOf(others) / rateOf(out) - 1, 10)
  expect(meansOf('Revenue')).toEqual([out, others].map((of) => expect.closeTo(meanOf(of.map((row) => row.amount)), 10)))
  expect(meansOf('A view')).toEqual(
    [out, others].map((of) =>
      expect.closeTo(sumOf(of.map(({ whole }) => whole)) / sumOf(of.map(({ views }) => views)), 10),
    ),
  )

  // Of the first week, visitors count whose week is over.
  const week = (await rowsOf(7, 1e9)).filter(({ first }) => first + 7 * DAY <= now.getTime())
  expect(read('First week').arms).toEqual(
    [true, false].map((isHeld) => {
      const of = week.filter(({ visitor }) => isOut(visitor) === isHeld)
      return { visitors: of.length, mean: expect.closeTo(meanOf(of.map(({ amount }) => amount)), 10) }
    }),
  )

  // What the experiment says of a visitor of its variant, over all who might have got it.
  const results = await experimentResults(database, await findSheet(database, siteId, experimentId), now)
  const { difference } = results.metrics[0]!.comparisons[0]!
  const promised = (difference.estimate! * results.arms[1]!.visitors) / others.length
  expect(read('Orders').promised).toMatchObject({ difference: expect.closeTo(promised, 12), things: 1 })
  expect(read('Orders').promised!.lift).toBeCloseTo(promised / rateOf(out), 10)
  expect(read('A view').promised).toBeNull()
  expect(reading.things).toMatchObject([{ experiment: experimentId, visitors: results.arms[1]!.visitors }])
  // Somebody who came in two months is in both.
  const ofMonths = reading.months.reduce((sum, { visitors }) => sum + visitors[0]! + visitors[1]!, 0)
  expect(reading.months.length).toBeGreaterThanOrEqual(2)
  expect(ofMonths).toBeGreaterThan(rows.length)
  expect(ofMonths).toBeLessThan(rows.length * 1.3)
})

test('closing a holdout opens everything to its visitors, keeps what it showed, and is done once', async () => {
  const { id, experimentId, isOut } = await begun()
  await visited(experimentId, isOut)
  const entry = async () =>
    (await findSiteFile(database, team.site.key))!.entries.find((each) => each.id === experimentId)
  await moveExperiment(database, { siteId, experimentId, personId: null }, 'pause')
  await moveExperiment(database, { siteId, experimentId, personId: null }, 'resume')
  expect(await entry()).toMatchObject({ holdouts: [{ share: 2000 }] })
  const before = await readHoldout(place(), id, new Date())
  const stranger = await createTeam(database)
  await expect(closeHoldout({ ...place(), siteId: stranger.site.id }, null, id, new Date())).rejects.toThrow(
    'does not exist on this site',
  )
  await closeHoldout(place(), null, id, new Date())
  expect((await entry())!).not.toHaveProperty('holdouts')
  expect(await listHoldouts(database, siteId, new Date())).toMatchObject([
    { isOpen: false, closedAt: expect.any(String) },
  ])
  await expect(closeHoldout(place(), null, id, new Date())).rejects.toThrow('closed already')

  // What comes later, and what is not kept any longer, changes nothing of it.
  await happen(database, team.site, [{ visitor: 'late', at: Date.now() - HOUR, path: '/' }])
  await folded(database, siteId)
  const after = await readHoldout(place(), id, new Date())
  expect({ ...after, until: before.until }).toEqual(before)
})

test('what is rolled out is worth what its experiment says, less what a closed holdout has not found of such promises', async () => {
  const { id, experimentId, isOut } = await begun()
  await visited(experimentId, isOut)
  const target = { siteId, experimentId, personId: null }
  const { variants } = await findSheet(database, siteId, experimentId)
  const decision = { variant: variants[1]!.id, reason: 'More orders.', person: null }
  const results = await experimentResults(database, await findSheet(database, siteId, experimentId), new Date())
  await endExperiment(database, target, decision, { share: 10_000, isForEverybody: true })
  const worthOf = async () => (await readThread(database, siteId, { experiment: experimentId })).worths
  const [control] = results.metrics[0]!.arms
  const [lift] = results.metrics[0]!.comparisons
  const { visitorsAMonth, unitValue } = results.money!
  const [worth] = await worthOf()
  // Of a run of 38 days, with what an order brought in the control.
  expect(worth!.expected / (visitorsAMonth * control!.mean! * lift!.lift.estimate! * unitValue)).toBeCloseTo(1, 1)
  expect(worth!.low).toBeLessThan(worth!.expected)
  expect(worth!.delivered).toBeNull()

  await closeHoldout(place(), null, id, new Date())
  const { metrics } = await readHoldout(place(), id, new Date())
  const orders = metrics.find(({ metric }) => metric.name === 'Orders')!
  expect(orders.promised!.interval![0]).toBeGreaterThan(0)
  const share = Math.min(1, Math.max(0, orders.lift.estimate! / orders.promised!.lift!))
  expect((await worthOf())[0]!.delivered).toEqual({ share: expect.closeTo(share, 10), holdout: id, name: 'Autumn' })

  const { items } = await changesOf(database, siteId, { subject: 'holdout', id }, { limit: 1 })
  expect(items[0]!.action).toBe('closed')
  // What is stopped is worth nothing any more.
  const [rollout] = await listRollouts(database, siteId, new Date())
  await changeRollout(
    database,
    { siteId, rolloutId: rollout!.id, personId: null },
    { version: 1, isOn: false },
    new Date(),
  )
  expect(await worthOf()).toEqual([])
})
