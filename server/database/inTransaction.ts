import type { Pool, PoolClient } from 'pg'

/** Runs work in one transaction on a connection of its own. */
export async function inTransaction<Result>(
  pool: Pool,
  work: (client: PoolClient) => Promise<Result>,
): Promise<Result> {
  const client = await pool.connect()
  try {
    await client.query('BEGIN')
    const result = await work(client)
    await client.query('COMMIT')
    client.release()
    return result
  } catch (error) {
    // The connection may be what broke, so it is not handed on.
    client.release(true)
    throw error
  }
}
