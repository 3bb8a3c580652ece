import type { Pool } from 'pg'
import { INTAKE_LOCK } from '../database/locks'
import { EVENT_COLUMNS, eventValues, type EventRow } from './eventRow'

const NAMES = EVENT_COLUMNS.map(([name]) => name)
// Arrays of texts travel, and the cast happens in the database: one statement, one round trip, one commit.
const INSERT = {
  name: 'write-events',
  text: `
    WITH locked AS MATERIALIZED (SELECT pg_advisory_xact_lock_shared(${INTAKE_LOCK}))
    INSERT INTO event (${NAMES.join(', ')})
    SELECT ${EVENT_COLUMNS.map(([name, type]) => `incoming.${name}::${type}`).join(', ')}
    FROM locked, unnest(${EVENT_COLUMNS.map((_, index) => `$${index + 1}::text[]`).join(', ')}) AS incoming (${NAMES.join(', ')})
    ON CONFLICT DO NOTHING`,
}

/** Writes events, leaving out those that are there already, and returns after the commit. */
export async function writeEvents(pool: Pool, rows: readonly EventRow[]): Promise<void> {
  const columns: (string | null)[][] = EVENT_COLUMNS.map(() => [])
  for (const row of rows) {
    const values = eventValues(row)
    for (let index = 0; index < values.length; index++) columns[index]!.push(values[index]!)
  }
  await pool.query({ ...INSERT, values: columns })
}
