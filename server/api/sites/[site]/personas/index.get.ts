import { defineOperation } from '~~/server/http/operation'
import { listPersonas } from '~~/server/services/audiences/personas'

export default defineOperation('listPersonas', ({ database, siteId }) => listPersonas(database, siteId))
