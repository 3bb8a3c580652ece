import { eq, sql } from 'drizzle-orm'
import { afterAll, beforeEach, expect, test, vi } from 'vitest'
import { connect } from '../../server/database/connect'
import { event, experiment, look, setAside, site, summaryDue } from '../../server/database/schema'
import { foldSite, lastVisibleSeq, takeBackEverywhere, takeBackSetAside } from '../../server/services/results/fold'
import type { Health } from '../../shared/delivery/replies'
import { longestWait } from '../../server/services/health'
import { foldAndSummarize } from '../../server/services/results/foldAndSummarize'
import { experimentResults } from '../../server/services/results/results'
import { storedSummaries } from '../../server/services/results/summaries'
import { findSheet } from '../../server/services/experiments/sheet'
import { folded, happen, type Happening } from '../arrivals'
import { primaryMetric } from '../metrics'
import { startedExperiment } from '../startedExperiment'
import { callerOf, createTeam } from './people'
import { ownStack } from './ownStack'
import { HOUR } from '../../core/time/units'

const { databaseUrl, url } = ownStack()
vi.setConfig({ testTimeout: 300_000 })
const database = connect(databaseUrl, 4)
afterAll(() => database.$client.end())

const START = Date.now() - 72 * HOUR
type Team = Awaited<ReturnType<typeof createTeam>>
let team: Team
let experimentId: number

beforeEach(async () => {
  team = await createTeam(database)
  experimentId = await start(team)
})
const start = ({ site: { id } }: Team) =>
  startedExperiment(database, id, START, primaryMetric('Booked', 'mean', { type: 'event', name: 'order' }))

const did = (visitor: string, hours: number, more: Partial<Happening>): Happening => ({
  visitor,
  at: START + hours * HOUR,
  ...more,
})
const seen = (visitor: string, id = experimentId): Happening =>
  did(visitor, 1, { type: 'exposure', experiment: id, variant: 0 })
const bought = (visitor: string, hours: number, amount: number, reference?: string) =>
  did(visitor, hours, { type: 'custom', name: 'order', amount, reference })
const foldAll = () => foldAndSummarize(database).catch((error: unknown) => error)
const asideOf = (id: number) => database.$count(setAside, eq(setAside.siteId, id))

async function booked(of: Team = team, id = experimentId) {
  const { metrics } = await experimentResults(database, await findSheet(database, of.site.id, id), new Date())
  return metrics[0]!.arms[0]!.sum
}

/** The worker may be in the middle of a site: what is booked is asked for until it is so. */
const bookedByNow = (of: Team, id: number) => async () => {
  await foldAll()
  return booked(of, id)
}

async function foldOnce(): Promise<number> {
  await foldSite(database.$client, team.site.id, await lastVisibleSeq(database.$client)).catch(() => {})
  return asideOf(team.site.id)
}
/** Fifty rows are found by some hundred transactions, and a busy machine does few a second. */
const PATIENTLY = { timeout: 250_000 }
/** The worker folds, too: whoever has the site's turn sets rows aside. */
const untilAside = (rows: number) => expect.poll(foldOnce, PATIENTLY).toBe(rows)

/** Makes a fault of ours: something that the fold does fails for some visitors. */
async function whileFailing(condition: string, work: () => Promise<void>): Promise<void> {
  await database.execute(sql.raw(`ALTER TABLE visitor_value ADD CONSTRAINT fault CHECK (NOT (${condition})) NOT VALID`))
  await work().finally(() => database.execute(sql`ALTER TABLE visitor_value DROP CONSTRAINT fault`))
}

test('a site that cannot be folded stops no other, and nothing of it is set aside', async () => {
  const [broken, fine] = [await createTeam(database), await createTeam(database)]
  const [brokenId, fineId] = [await start(broken), await start(fine)]
  await database.update(site).set({ timeZone: 'Atlantis/Capital' }).where(eq(site.id, broken.site.id))
  for (const [of, id] of [
    [team, experimentId],
    [broken, brokenId],
    [fine, fineId],
  ] as const)
    await happen(database, of.site, [seen('visitor-a', id), bought('visitor-a', 2, 7)])
  await expect.poll(bookedByNow(team, experimentId), PATIENTLY).toBe(7)
  await expect.poll(bookedByNow(fine, fineId), PATIENTLY).toBe(7)
  expect(await asideOf(broken.site.id)).toBe(0)
  await expect.poll(async () => (await storedSummaries(database, fine.site.id, [fineId])).get(fineId)?.visitors).toBe(1)
  await database.update(site).set({ timeZone: 'UTC' }).where(eq(site.id, broken.site.id))
  await expect.poll(bookedByNow(broken, brokenId), PATIENTLY).toBe(7)
})

test('a fault of ours sets a bounded number of rows aside however often it is met, and they all count once it is mended', async () => {
  await happen(database, team.site, [seen('visitor-ok'), bought('visitor-ok', 2, 5)])
  await foldAll()
  const visitors = Array.from({ length: 120 }, (_, index) => `visitor-${index}`)
  await whileFailing(`site_id = ${team.site.id} AND visitor_id <> 'visitor-ok'`, async () => {
    await happen(
      database,
      team.site,
      visitors.flatMap((visitor) => [seen(visitor), bought(visitor, 2, 10)]),
    )
    await untilAside(50)
    for (let go = 0; go < 4; go++) expect(await foldOnce()).toBe(50)
    expect(await takeBackSetAside(database.$client, team.site.id)).toEqual({ folded: 0, left: 50 })
  })
  expect(await takeBackSetAside(database.$client, team.site.id)).toEqual({ folded: 50, left: 0 })
  // A busy machine may not be done with a site in the time that it has in one go.
  await expect.poll(bookedByNow(team, experimentId), PATIENTLY).toBe(1205)
  const { rows } = await database.execute(
    sql`SELECT sum(events)::int AS events FROM visitor WHERE site_id = ${team.site.id}`,
  )
  expect(rows[0]).toEqual({ events: 4 + 120 * 4 })
})

test('rows of all sites are taken back at a start, also where one site cannot be folded', async () => {
  const broken = await createTeam(database)
  await start(broken)
  await happen(database, team.site, [seen('visitor-a')])
  await foldAll()
  await whileFailing(`site_id = ${team.site.id} AND value = 30`, async () => {
    await happen(database, team.site, [bought('visitor-a', 2, 30)])
    await untilAside(1)
  })
  // Its turn may come before the other's, and must not end the round.
  for (const seq of [1, 2]) await database.insert(setAside).values({ siteId: broken.site.id, seq, reason: 'A fault' })
  await database.update(site).set({ timeZone: 'Atlantis/Capital' }).where(eq(site.id, broken.site.id))
  await takeBackEverywhere(database.$client)
  expect([await booked(), await asideOf(team.site.id), await asideOf(broken.site.id)]).toEqual([30, 0, 2])
  await database.update(site).set({ timeZone: 'UTC' }).where(eq(site.id, broken.site.id))
})

test('an order that was set aside counts once, though it was told again before it came back', async () => {
  await happen(database, team.site, [seen('visitor-a')])
  await foldAll()
  await whileFailing(`site_id = ${team.site.id} AND value = 30`, async () => {
    await happen(database, team.site, [bought('visitor-a', 2, 30, 'A')])
    await untilAside(1)
  })
  expect(await asideOf(team.site.id)).toBe(1)
  await happen(database, team.site, [bought('visitor-a', 3, 30, 'A'), bought('visitor-a', 3, 4, 'B')])
  await expect.poll(bookedByNow(team, experimentId), PATIENTLY).toBe(34)
  await takeBackSetAside(database.$client, team.site.id)
  expect(await booked()).toBe(34)
})

test('an owner sees why events are set aside and has them counted; nobody else may', async () => {
  await happen(database, team.site, [seen('visitor-a')])
  await foldAll()
  await whileFailing(`site_id = ${team.site.id} AND value = 30`, async () => {
    await happen(database, team.site, [bought('visitor-a', 2, 30)])
    await untilAside(1)
  })
  const path = `/api/sites/${team.site.id}/set-aside`
  const editor = await callerOf(url, team.emails.editor)
  expect([(await editor('GET', path)).status, (await editor('POST', path)).status]).toEqual([403, 403])
  const owner = await callerOf(url, team.emails.owner)
  expect(await (await owner('GET', path)).json()).toEqual([
    { reason: expect.stringContaining('fault'), events: 1, since: expect.any(String) },
  ])
  expect(await (await owner('POST', path)).json()).toEqual({ counted: 1, left: 0 })
  expect(await booked()).toBe(30)
})

test('one site is folded for a while, and then it is the next one’s turn', async () => {
  await happen(
    database,
    team.site,
    Array.from({ length: 200 }, (_, index) => bought(`visitor-${index}`, 2, 1)),
  )
  const upTo = await lastVisibleSeq(database.$client)
  const count = await foldSite(database.$client, team.site.id, upTo, { portion: 10, budget: 0 })
  expect(count).toBe(0)
  await folded(database, team.site.id)
  const { rows } = await database.execute(
    sql`SELECT count(*)::int AS visitors FROM visitor WHERE site_id = ${team.site.id}`,
  )
  expect(rows[0]).toEqual({ visitors: 200 })
})

test('health says how long what was received has waited for the fold', async () => {
  await happen(database, team.site, [{ ...seen('visitor-a'), view: { receivedAt: new Date(START) } }])
  await database.update(site).set({ timeZone: 'Atlantis/Capital' }).where(eq(site.id, team.site.id))
  const health = await fetch(`${url}/api/health`)
  expect([health.status, await health.json()]).toEqual([
    503,
    expect.objectContaining({ status: 'behind', database: 'ok', waitingToBeFolded: expect.any(Number) }),
  ])
  await database.update(site).set({ timeZone: 'UTC' }).where(eq(site.id, team.site.id))
  // The worker may be in the middle of the site, and waits after what failed: then the next one does it.
  const waitByNow = async () => {
    await foldAll()
    return longestWait(database, team.site.id)
  }
  await expect.poll(waitByNow, PATIENTLY).toBe(0)
  // Sites of other tests may be waiting for good: what is told is of whichever has waited longest.
  const { status, waitingToBeFolded } = (await (await fetch(`${url}/api/health`)).json()) as Health
  expect(Math.abs(waitingToBeFolded! - (await longestWait(database)))).toBeLessThan(60)
  if (waitingToBeFolded! < 120) expect(status).not.toBe('behind')
})

test('a summary is computed though the process ended between the fold and it, also of what has ended', async () => {
  await happen(database, team.site, [seen('visitor-a')])
  await database
    .update(experiment)
    .set({ state: 'ended', endedAt: new Date(START + 48 * HOUR) })
    .where(eq(experiment.id, experimentId))
  await foldSite(database.$client, team.site.id, await lastVisibleSeq(database.$client))
  // Whoever comes next does it.
  const visitorsByNow = async () => {
    await foldAll()
    return (await storedSummaries(database, team.site.id, [experimentId])).get(experimentId)?.visitors
  }
  await expect.poll(visitorsByNow, PATIENTLY).toBe(1)
  expect(await database.$count(summaryDue, eq(summaryDue.siteId, team.site.id))).toBe(0)
  expect(await database.$count(event, eq(event.siteId, team.site.id))).toBe(1)
  const { rows } = await database.execute<{ day: string }>(
    sql`SELECT DISTINCT day::text AS day FROM look WHERE site_id = ${team.site.id}`,
  )
  expect(rows).toEqual([{ day: new Date(START + 48 * HOUR).toISOString().slice(0, 10) }])
  expect(await database.$count(look, eq(look.siteId, team.site.id))).toBe(1)
})
