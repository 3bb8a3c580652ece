import { max, sql } from 'drizzle-orm'
import { firstIdAt } from '../../core/identity/timeOrderedId'
import type { Database } from '../database/connect'
import { dropPartitionsBefore, ensurePartitions } from '../database/partitions'
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

/** Deletes raw views and events that are older than their site keeps them. Sums, values and exposures stay. */
export async function forgetRawEvents(database: Database, now: Date): Promise<void> {
  const [longest] = await database.select({ days: max(site.retentionDays) }).from(site)
  if (longest?.days) await dropPartitionsBefore(database, new Date(now.getTime() - longest.days * DAY))
  const sites = await database.select({ id: site.id, days: site.retentionDays }).from(site)
  for (const { id, days } of sites) {
    const oldest = firstIdAt(now.getTime() - days * DAY)
    await database.execute(sql`DELETE FROM event WHERE site_id = ${id} AND id < ${oldest}`)
    await database.execute(sql`DELETE FROM page_view WHERE site_id = ${id} AND id < ${oldest}`)
  }
}
