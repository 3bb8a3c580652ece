import { setHeader } from 'h3'
import { defineOperation } from '~~/server/http/operation'
import { exportPerson } from '~~/server/services/visitors/exportVisitor'

export default defineOperation('exportPerson', ({ event, database, siteId, path }) => {
  setHeader(event, 'content-disposition', 'attachment; filename="person.json"')
  return exportPerson(database, siteId, path.person)
})
