import { pipeline } from 'node:stream/promises'
import { Readable } from 'node:stream'
import type { Pool } from 'pg'
import { from as copyFrom } from 'pg-copy-streams'
import { INTAKE_LOCK } from '../../server/database/locks'
import { EVENT_COLUMNS, eventValues, type EventRow } from '../../server/intake/eventRow'

/** Writes events in bulk, in a transaction of its own. They must be new: nothing is checked. */
export async function copyEvents(pool: Pool, rows: readonly EventRow[]): Promise<void> {
  const client = await pool.connect()
  try {
    await client.query('BEGIN')
    await client.query(`SELECT pg_advisory_xact_lock_shared(${INTAKE_LOCK})`)
    const stream = client.query(copyFrom(`COPY event (${EVENT_COLUMNS.map(([name]) => name).join(', ')}) FROM STDIN`))
    await pipeline(Readable.from(lines(rows)), stream)
    await client.query('COMMIT')
  } catch (error) {
    await client.query('ROLLBACK').catch(() => {})
    throw error
  } finally {
    client.release()
  }
}

function* lines(rows: readonly EventRow[]): Generator<string> {
  for (let start = 0; start < rows.length; start += 500) {
    yield rows
      .slice(start, start + 500)
      .map((row) => `${eventValues(row).map(field).join('\t')}\n`)
      .join('')
  }
}

function field(value: string | null): string {
  if (value === null) return '\\N'
  return value.replace(
    /[\\\n\r\t]/g,
    (character) => ({ '\\': '\\\\', '\n': '\\n', '\r': '\\r', '\t': '\\t' })[character]!,
  )
}
