import { defineOperation } from '~~/server/http/operation'
import { listTokens } from '~~/server/services/accounts/tokens'

export default defineOperation('listTokens', ({ database, siteId, query }) => listTokens(database, siteId, query))
