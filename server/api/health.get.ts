import { setResponseStatus } from 'h3'
import { defineOperation } from '~~/server/http/operation'
import { readHealth } from '~~/server/services/health'
import { version } from '~~/package.json'

export default defineOperation('readHealth', async ({ event, database }) => {
  const health = await readHealth(database)
  if (health.status !== 'ok') setResponseStatus(event, 503)
  return { ...health, version }
})
