import { defineOperation } from '~~/server/http/operation'
import { listFindings } from '~~/server/services/findings/findings'

export default defineOperation('listFindings', ({ database, siteId, query }) => listFindings(database, siteId, query))
