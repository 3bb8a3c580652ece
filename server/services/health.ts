import { sql } from 'drizzle-orm'
import type { Health } from '../../shared/delivery/replies'
import type { Queries } from '../database/connect'

/** What waits longer than this to be folded, in seconds, waits for somebody to look why. */
const LONGEST_WAIT = 120

/** Whether the database answers, and how far what was received has come into the numbers. */
export async function readHealth(database: Queries): Promise<Omit<Health, 'version'>> {
  try {
    const waitingToBeFolded = await longestWait(database)
    const status = waitingToBeFolded > LONGEST_WAIT ? 'behind' : 'ok'
    return { status, database: 'ok', waitingToBeFolded }
  } catch {
    return { status: 'degraded', database: 'away', waitingToBeFolded: null }
  }
}

async function longestWait(database: Queries): Promise<number> {
  const first = (table: string) =>
    sql.raw(
      `(SELECT received_at FROM ${table} t WHERE t.site_id = s.id AND t.seq > coalesce(c.seq, 0) ORDER BY seq LIMIT 1)`,
    )
  const { rows } = await database.execute<{ seconds: number | null }>(sql`
    SELECT extract(epoch FROM now() - min(least(${first('page_view')}, ${first('event')})))::float8 AS seconds
    FROM site s LEFT JOIN fold_cursor c ON c.site_id = s.id`)
  return Math.max(0, rows[0]?.seconds ?? 0)
}
