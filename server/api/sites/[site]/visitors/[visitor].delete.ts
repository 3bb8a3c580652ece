import { defineOperation } from '~~/server/http/operation'
import { eraseVisitor } from '~~/server/services/visitors/eraseVisitor'

export default defineOperation('eraseVisitor', async ({ database, siteId, personId, path }) => ({
  rows: await eraseVisitor(database, siteId, personId, path.visitor),
}))
