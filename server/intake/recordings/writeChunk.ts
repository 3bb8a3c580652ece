import type { Pool } from 'pg'
import { OLDEST_EVENT } from '../../../shared/intake/collect'
import { LARGEST_RECORDING, LARGEST_UNPACKED_RECORDING } from '../../../shared/intake/record'
import { inTransaction } from '../../database/inTransaction'
import type { ChunkOutcome, ChunkRow } from './takeChunk'

/** The part of what a site keeps of recordings that one network may bring in a day. */
const PART_OF_NETWORK = 0.1

const HAS_VIEW = `
  SELECT FROM page_view WHERE site_id = $1 AND visitor_id = $2 AND session_id = $3 LIMIT 1`
const SIZE = `
  SELECT bytes::float8 AS bytes, unpacked::float8 AS unpacked
  FROM recording WHERE site_id = $1 AND visitor_id = $2 AND session_id = $3`
const OF_NETWORK = `
  SELECT (SELECT coalesce(sum(bytes), 0) FROM recording WHERE site_id = $1 AND network = $2)::float8 AS bytes,
         (SELECT (collection -> 'recording' ->> 'megabytes')::float8 * 1000000 FROM site WHERE id = $1) AS kept`
const INSERT = `
  INSERT INTO recording_chunk (site_id, visitor_id, session_id, id, view_id, number, content, unpacked)
  VALUES ($1, $2, $3, $4, $5, $6, $7, $8) ON CONFLICT DO NOTHING`
const COUNT = `
  INSERT INTO recording AS r
    (site_id, visitor_id, session_id, started_at, ended_at, listed_at, received_at, network, chunks, bytes, unpacked)
  VALUES ($1, $2, $3, $4, $5, $6, $7, $8, 1, $9, $10)
  ON CONFLICT (site_id, visitor_id, session_id) DO UPDATE
  SET started_at = least(r.started_at, excluded.started_at), ended_at = greatest(r.ended_at, excluded.ended_at),
      listed_at = least(r.listed_at, excluded.listed_at),
      chunks = r.chunks + 1, bytes = r.bytes + excluded.bytes, unpacked = r.unpacked + excluded.unpacked`

/**
 * Writes a chunk and counts it with its recording; the same chunk again changes nothing.
 *
 * @returns `early` while no page view of its session is known, `full` where the session is as large as it may be,
 *   `crowded` where its network has brought as much as it may that day
 */
export async function writeChunk(pool: Pool, chunk: ChunkRow): Promise<ChunkOutcome> {
  const { siteId, visitorId, sessionId, id, viewId, number, first, last, receivedAt, network } = chunk
  const { content, unpacked } = chunk
  const session = [siteId, visitorId, sessionId]
  return inTransaction(pool, async (client) => {
    const { rowCount: views } = await client.query(HAS_VIEW, session)
    if (views === 0) return 'early'
    const { rows: known } = await client.query<{ bytes: number; unpacked: number }>(SIZE, session)
    const [own] = known
    if ((own?.bytes ?? 0) + content.length > LARGEST_RECORDING) return 'full'
    if ((own?.unpacked ?? 0) + unpacked > LARGEST_UNPACKED_RECORDING) return 'full'
    const { rows } = await client.query<{ bytes: number; kept: number }>(OF_NETWORK, [siteId, network])
    if (rows[0]!.bytes + content.length > rows[0]!.kept * PART_OF_NETWORK) return 'crowded'
    const { rowCount } = await client.query(INSERT, [...session, id, viewId, number, content, unpacked])
    if (rowCount === 0) return 'known'
    const listed = clamped(first, receivedAt)
    await client.query(COUNT, [...session, first, last, listed, receivedAt, network, content.length, unpacked])
    return 'kept'
  })
}

/** A moment by a browser's clock as far as it can be: not after it was told, and not long before. */
function clamped(moment: Date, receivedAt: Date): Date {
  return new Date(Math.max(receivedAt.getTime() - OLDEST_EVENT, Math.min(moment.getTime(), receivedAt.getTime())))
}
