import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres'
import pg from 'pg'
import * as schema from './schema'

export type Database = NodePgDatabase<typeof schema> & { $client: pg.Pool }
/** A database or a transaction on it: what a service needs to read and write. */
export type Queries = Pick<
  Database,
  'select' | 'selectDistinctOn' | 'insert' | 'update' | 'delete' | 'execute' | 'query'
>

/** Opens a pool of connections. */
export function connect(url: string, connections = 10): Database {
  const pool = new pg.Pool({
    connectionString: url,
    max: connections,
    connectionTimeoutMillis: 5000,
    application_name: 'vetch',
  })
  // A connection that breaks is replaced at its next use, and says so at the next statement of a transaction; without
  // a listener it would end the process, idle or in use.
  pool.on('error', () => {})
  pool.on('connect', (client) => client.on('error', () => {}))
  return drizzle(pool, { schema, casing: 'snake_case' })
}
