import { eq, sql } from 'drizzle-orm'
import type { Database } from '../../database/connect'
import { recording, site } from '../../database/schema'
import { DAY } from '../../../core/time/units'

/** Deletes recordings that are older than their site keeps them, and the oldest of those that are too large together. */
export async function forgetRecordings(database: Database, now: Date): Promise<void> {
  const sites = await database.select({ id: site.id, collection: site.collection }).from(site)
  for (const { id, collection } of sites) {
    const { days, megabytes } = collection.recording
    const oldest = new Date(now.getTime() - days * DAY).toISOString()
    await database.transaction(async (tx) => {
      await tx.execute(sql`
        DELETE FROM recording r USING (
          SELECT visitor_id, session_id, started_at, sum(bytes) OVER (ORDER BY started_at DESC, visitor_id, session_id) AS reached
          FROM recording WHERE site_id = ${id}
        ) kept
        WHERE r.site_id = ${id} AND r.visitor_id = kept.visitor_id AND r.session_id = kept.session_id
          AND (kept.started_at < ${oldest}::timestamptz OR kept.reached > ${megabytes}::bigint * 1000000)`)
      for (const table of ['recording_chunk', 'recording_note'])
        await tx.execute(sql`
          DELETE FROM ${sql.identifier(table)} c WHERE c.site_id = ${id} AND NOT EXISTS (
            SELECT FROM ${recording} WHERE ${eq(recording.siteId, id)}
              AND ${recording.visitorId} = c.visitor_id AND ${recording.sessionId} = c.session_id)`)
    })
  }
}
