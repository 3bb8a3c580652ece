import { setHeader } from 'h3'
import { defineOperation } from '~~/server/http/operation'
import { exportVisitor } from '~~/server/services/visitors/exportVisitor'

export default defineOperation('exportVisitor', ({ event, database, siteId, path }) => {
  setHeader(event, 'content-disposition', `attachment; filename="visitor-${path.visitor}.json"`)
  return exportVisitor(database, siteId, path.visitor)
})
