import { eq, sql } from 'drizzle-orm'
import type { Database } from '../../database/connect'
import { recording, site } from '../../database/schema'
import { DAY } from '../../../core/time/units'

/** Deletes, on every site, recordings that are older than it keeps them, and the oldest of those that are too many. */
export async function forgetRecordings(database: Database, now: Date): Promise<void> {
  for (const { id } of await database.select({ id: site.id }).from(site)) await forgetRecordingsOf(database, id, now)
}

/** The same on one site. How old a recording is goes by when it came, which no browser can say otherwise. */
export async function forgetRecordingsOf(database: Database, siteId: number, now: Date): Promise<void> {
  const [found] = await database.select({ collection: site.collection }).from(site).where(eq(site.id, siteId))
  if (!found) return
  const { days, megabytes } = found.collection.recording
  const oldest = new Date(now.getTime() - days * DAY).toISOString()
  await database.execute(
    sql`DELETE FROM kept_style_sheet WHERE site_id = ${siteId} AND last_at < ${oldest}::timestamptz`,
  )
  await database.transaction(async (tx) => {
    const gone = await tx.execute(sql`
      DELETE FROM recording r USING (
        SELECT visitor_id, session_id, received_at,
               sum(bytes) OVER (ORDER BY received_at DESC, visitor_id, session_id) AS reached
        FROM recording WHERE site_id = ${siteId}
      ) kept
      WHERE r.site_id = ${siteId} AND r.visitor_id = kept.visitor_id AND r.session_id = kept.session_id
        AND (kept.received_at < ${oldest}::timestamptz OR kept.reached > ${megabytes}::bigint * 1000000)`)
    if (gone.rowCount === 0) return
    for (const table of ['recording_chunk', 'recording_note'])
      await tx.execute(sql`
        DELETE FROM ${sql.identifier(table)} c WHERE c.site_id = ${siteId} AND NOT EXISTS (
          SELECT FROM ${recording} WHERE ${eq(recording.siteId, siteId)}
            AND ${recording.visitorId} = c.visitor_id AND ${recording.sessionId} = c.session_id)`)
  })
}
