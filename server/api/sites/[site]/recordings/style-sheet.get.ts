import { defineOperation } from '~~/server/http/operation'
import { readKeptStyleSheet } from '~~/server/services/recordings/styleSheets'

export default defineOperation('readStyleSheet', ({ database, siteId, query }) =>
  readKeptStyleSheet(database, siteId, query.address, new Date(query.at)),
)
