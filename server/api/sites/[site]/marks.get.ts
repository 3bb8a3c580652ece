import { defineOperation } from '~~/server/http/operation'
import { readMarks } from '~~/server/services/history/marks'

export default defineOperation('readMarks', ({ database, siteId, query }) => readMarks(database, siteId, query))
