import { setHeader } from 'h3'
import { defineOperation } from '~~/server/http/operation'
import { readDeveloperText } from '~~/server/services/experiments/readDeveloperText'

export default defineOperation('exportDeveloperText', async ({ event, database, siteId, path, query }) => {
  setHeader(event, 'content-type', 'text/markdown; charset=utf-8')
  setHeader(event, 'content-disposition', 'attachment; filename="developers.md"')
  return readDeveloperText(database, siteId, path.experiment, query.variant)
})
