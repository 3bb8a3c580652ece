import { eq, sql } from 'drizzle-orm'
import type { Database } from '../database/connect'
import { dropEmptyPartitions, ensurePartitions } from '../database/partitions'
import { site } from '../database/schema'
import { dropOldSessions } from '../services/accounts/sessions'
import { forgetRecordings } from '../services/recordings/forgetRecordings'
import { dropOldJobs } from './backgroundJobs'

const DAY = 24 * 60 * 60 * 1000
const JOBS_KEPT_DAYS = 30

/** What is done once a night: makes next month's partitions, and forgets what is older than sites keep it. */
export async function keepHouse(database: Database, now: Date): Promise<void> {
  await ensurePartitions(database, now)
  await forgetRawEvents(database, now)
  await forgetRecordings(database, now)
  await dropOldSessions(database)
  await dropOldJobs(database, new Date(now.getTime() - JOBS_KEPT_DAYS * DAY))
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
