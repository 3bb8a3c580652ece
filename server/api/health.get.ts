import { sql } from 'drizzle-orm'
import { setResponseStatus } from 'h3'
import { defineOperation } from '~~/server/routing/operation'
import { version } from '~~/package.json'

export default defineOperation('readHealth', async ({ event, database }) => {
  try {
    await database.execute(sql`SELECT 1`)
    return { status: 'ok', database: 'ok', version }
  } catch {
    setResponseStatus(event, 503)
    return { status: 'degraded', database: 'away', version }
  }
})
