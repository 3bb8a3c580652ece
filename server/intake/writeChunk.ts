import type { Pool } from 'pg'
import { LARGEST_RECORDING } from '../../shared/intake/record'
import { inTransaction } from '../database/inTransaction'
import type { ChunkRow } from './takeChunk'

const SIZE = `
  SELECT bytes::float8 AS bytes FROM recording WHERE site_id = $1 AND visitor_id = $2 AND session_id = $3`
const INSERT = `
  INSERT INTO recording_chunk (site_id, visitor_id, session_id, id, view_id, number, content)
  VALUES ($1, $2, $3, $4, $5, $6, $7) ON CONFLICT DO NOTHING`
const COUNT = `
  INSERT INTO recording AS r (site_id, visitor_id, session_id, started_at, ended_at, chunks, bytes)
  VALUES ($1, $2, $3, $4, $5, 1, $6)
  ON CONFLICT (site_id, visitor_id, session_id) DO UPDATE
  SET started_at = least(r.started_at, excluded.started_at), ended_at = greatest(r.ended_at, excluded.ended_at),
      chunks = r.chunks + 1, bytes = r.bytes + excluded.bytes`

/** Writes a chunk and counts it with its recording; the same chunk again changes nothing. */
export async function writeChunk(pool: Pool, chunk: ChunkRow): Promise<'kept' | 'known' | 'full'> {
  const { siteId, visitorId, sessionId, id, viewId, number, first, last, content } = chunk
  const session = [siteId, visitorId, sessionId]
  return inTransaction(pool, async (client) => {
    const { rows } = await client.query<{ bytes: number }>(SIZE, session)
    if ((rows[0]?.bytes ?? 0) + content.length > LARGEST_RECORDING) return 'full'
    const { rowCount } = await client.query(INSERT, [...session, id, viewId, number, content])
    if (rowCount === 0) return 'known'
    await client.query(COUNT, [...session, first, last, content.length])
    return 'kept'
  })
}
