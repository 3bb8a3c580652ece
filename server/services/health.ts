import { asc, gt, sql } from 'drizzle-orm'
import type { Health } from '../../shared/delivery/replies'
import type { Queries } from '../database/connect'
import { runningProcess } from '../database/schema'

/** What waits longer than this to be folded, in seconds, waits for somebody to look why. */
const LONGEST_WAIT = 120

/** A process that has said nothing for so long, in seconds, is gone, or does not get to anything. */
const LONGEST_SILENCE = 30
/** For how long, in seconds, one that is gone without another of its kind is missed. */
const MISSED = 600

/**
 * Whether the database answers, how far what was received has come into the numbers, and how each process fares. One
 * that is gone, with no other in its place, is told, and so is a site whose cursor stands still.
 */
export async function readHealth(database: Queries): Promise<Omit<Health, 'version'>> {
  try {
    const waitingToBeFolded = await longestWait(database)
    const seen = await seenProcesses(database)
    const isThere = ({ seen }: SeenProcess) => seen <= LONGEST_SILENCE
    const there = new Set(seen.filter(isThere).map(({ role }) => role))
    const isMissed = seen.some(({ role }) => !there.has(role))
    return {
      status: isMissed ? 'degraded' : waitingToBeFolded > LONGEST_WAIT ? 'behind' : 'ok',
      database: 'ok',
      waitingToBeFolded,
      processes: seen.filter((each) => isThere(each) || !there.has(each.role)),
    }
  } catch {
    return { status: 'degraded', database: 'away', waitingToBeFolded: null, processes: [] }
  }
}

type SeenProcess = Health['processes'][number]

async function seenProcesses(database: Queries): Promise<SeenProcess[]> {
  const { role, startedAt, seenAt, delay, work } = runningProcess
  const rows = await database
    .select({ role, startedAt, delay, work, seen: sql<number>`extract(epoch FROM now() - ${seenAt})::float8` })
    .from(runningProcess)
    .where(gt(seenAt, sql`now() - ${MISSED} * interval '1 second'`))
    .orderBy(asc(role), asc(startedAt))
  return rows.map((row) => ({ ...row, startedAt: row.startedAt.toISOString(), seen: Math.max(0, row.seen) }))
}

/**
 * For how long what was received has waited to be folded, in seconds.
 *
 * @param siteId - of one site alone
 */
export async function longestWait(database: Queries, siteId: number | null = null): Promise<number> {
  const first = (table: string) =>
    sql.raw(
      `(SELECT received_at FROM ${table} t WHERE t.site_id = s.id AND t.seq > coalesce(c.seq, 0) ORDER BY seq LIMIT 1)`,
    )
  const { rows } = await database.execute<{ seconds: number | null }>(sql`
    SELECT extract(epoch FROM now() - min(least(${first('page_view')}, ${first('event')})))::float8 AS seconds
    FROM site s LEFT JOIN fold_cursor c ON c.site_id = s.id
    WHERE ${siteId}::int IS NULL OR s.id = ${siteId}::int`)
  return Math.max(0, rows[0]?.seconds ?? 0)
}
