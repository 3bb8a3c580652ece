import type { Pool, PoolClient } from 'pg'

/** Runs work in one transaction on a connection of its own. */
export async function inTransaction<Result>(
  pool: Pool,
  work: (client: PoolClient) => Promise<Result>,
): Promise<Result> {
  const client = await pool.connect()
  // A connection that breaks says so at the next statement; without a listener it would end the process.
  const onError = () => {}
  client.on('error', onError)
  try {
    await client.query('BEGIN')
    const result = await work(client)
    await client.query('COMMIT')
    client.off('error', onError)
    client.release()
    return result
  } catch (error) {
    // The connection may be what broke, so it is not handed on.
    client.release(true)
    throw error
  }
}
