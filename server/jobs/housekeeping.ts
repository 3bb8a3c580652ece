import { eq, sql } from 'drizzle-orm'
import { PERSON } from '../../core/identity/personId'
import { OLDEST_VIEW } from '../../shared/intake/collect'
import type { Database } from '../database/connect'
import { dropEmptyPartitions, ensurePartitions } from '../database/partitions'
import { site } from '../database/schema'
import { dropOldSessions } from '../services/accounts/sessions'
import { forgetRecordings } from '../services/recordings/forgetRecordings'
import { dropOldJobs } from './backgroundJobs'
import { DAY } from '../../core/time/units'

const JOBS_KEPT_DAYS = 30
const TOLD_KEPT_DAYS = 90
/** For how long the visitors of a deleted experiment are kept, so that it can be restored. */
const DELETED_KEPT_DAYS = 30

/** What is done once a night: makes next month's partitions, and forgets what is older than sites keep it. */
export async function keepHouse(database: Database, now: Date): Promise<void> {
  await ensurePartitions(database, now)
  await forgetRawEvents(database, now)
  await forgetVisitors(database, now)
  await forgetRecordings(database, now)
  await dropOldSessions(database)
  // Networks are told apart for a day.
  await database.execute(sql`DELETE FROM network_budget WHERE at < now() - interval '2 days'`)
  await database.execute(sql`DELETE FROM running_process WHERE seen_at < now() - interval '1 day'`)
  await forgetTold(database, now)
  await dropOldJobs(database, new Date(now.getTime() - JOBS_KEPT_DAYS * DAY))
}

/** Lets go of what people and webhooks were told long ago. */
async function forgetTold(database: Database, now: Date): Promise<void> {
  const before = new Date(now.getTime() - TOLD_KEPT_DAYS * DAY).toISOString()
  await database.execute(sql`DELETE FROM occurrence WHERE happened_at < ${before}`)
  await database.execute(sql`DELETE FROM letter WHERE created_at < ${before}`)
  await database.execute(sql`DELETE FROM webhook_delivery WHERE created_at < ${before} AND next_try_at IS NULL`)
}

/**
 * Deletes views and events that happened longer ago than their site keeps them, and notes from when on they are there.
 * What was measured from them stays. `tests/integration/retention.test.ts` holds it.
 */
export async function forgetRawEvents(database: Database, now: Date): Promise<void> {
  const sites = await database.select({ id: site.id, days: site.retentionDays }).from(site)
  for (const { id, days } of sites) {
    const oldest = new Date(now.getTime() - days * DAY)
    await database.transaction(async (tx) => {
      const gone = [
        await tx.execute(sql`DELETE FROM event WHERE site_id = ${id} AND occurred_at < ${oldest.toISOString()}`),
        await tx.execute(sql`DELETE FROM page_view WHERE site_id = ${id} AND occurred_at < ${oldest.toISOString()}`),
      ]
      if (gone.every(({ rowCount }) => rowCount === 0)) return
      await tx
        .update(site)
        .set({ rawSince: sql`greatest(${site.rawSince}, ${oldest.toISOString()}::timestamptz)` })
        .where(eq(site.id, id))
    })
  }
  const longest = Math.max(0, ...sites.map(({ days }) => days))
  if (longest > 0) await dropEmptyPartitions(database, new Date(now.getTime() - longest * DAY))
}

/**
 * Deletes what is kept of visitors beside their views and events, once nothing needs it any more: visits while no
 * experiment goes on that may count them, visitors and persons once no experiment is kept that they took part in.
 */
export async function forgetVisitors(database: Database, now: Date): Promise<void> {
  const deletedBefore = new Date(now.getTime() - DELETED_KEPT_DAYS * DAY).toISOString()
  const closedBefore = new Date(now.getTime() - OLDEST_VIEW).toISOString()
  for (const { id, days } of await database.select({ id: site.id, days: site.retentionDays }).from(site)) {
    const oldest = new Date(now.getTime() - days * DAY).toISOString()
    const isGone = sql`IN (SELECT e.id FROM experiment e WHERE e.site_id = ${id} AND e.deleted_at < ${deletedBefore})`
    await database.execute(sql`DELETE FROM visitor_value WHERE site_id = ${id} AND experiment_id ${isGone}`)
    await database.execute(sql`DELETE FROM exposure WHERE site_id = ${id} AND experiment_id ${isGone}`)
    await database.execute(sql`DELETE FROM answer_tag WHERE site_id = ${id} AND answered_at < ${oldest}`)
    await database.execute(sql`DELETE FROM crowd WHERE site_id = ${id} AND experiment_id ${isGone}`)
    await database.execute(sql`
      DELETE FROM session s WHERE s.site_id = ${id} AND s.ended_at < ${oldest} AND NOT EXISTS (
        SELECT FROM exposure x JOIN experiment e ON e.site_id = x.site_id AND e.id = x.experiment_id
        WHERE x.site_id = s.site_id AND x.visitor_id = s.visitor_id AND (e.ended_at IS NULL OR e.ended_at >= ${closedBefore}))`)
    await database.execute(sql`
      DELETE FROM person_session s WHERE s.site_id = ${id} AND s.ended_at < ${oldest} AND NOT EXISTS (
        SELECT FROM exposure x WHERE x.site_id = s.site_id AND x.visitor_id = ${PERSON} || s.person_id)`)
    await database.execute(sql`
      DELETE FROM visitor v WHERE v.site_id = ${id} AND v.last_seen_at < ${oldest} AND NOT EXISTS (
        SELECT FROM exposure x WHERE x.site_id = v.site_id AND x.visitor_id = v.id)`)
  }
}
