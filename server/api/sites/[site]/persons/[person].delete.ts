import { defineOperation } from '~~/server/http/operation'
import { erasePerson } from '~~/server/services/visitors/eraseVisitor'

export default defineOperation('erasePerson', async ({ database, siteId, personId, path, body }) => ({
  rows: await erasePerson(database, siteId, personId, path.person, body.visitors),
}))
