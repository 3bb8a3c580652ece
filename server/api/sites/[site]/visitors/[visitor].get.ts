import { Readable } from 'node:stream'
import { setHeader } from 'h3'
import { defineOperation } from '~~/server/http/operation'
import { exportVisitor } from '~~/server/services/visitors/exportVisitor'

export default defineOperation('exportVisitor', async ({ event, database, siteId, path }) => {
  const pieces = await exportVisitor(database, siteId, path.visitor)
  setHeader(event, 'content-type', 'application/json')
  setHeader(event, 'content-disposition', `attachment; filename="visitor-${path.visitor}.json"`)
  // JSON too, but a piece at a time.
  return Readable.from(pieces) as unknown as Record<string, unknown>
})
