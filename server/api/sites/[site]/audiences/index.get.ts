import { defineOperation } from '~~/server/http/operation'
import { listAudiences } from '~~/server/services/audiences/savedAudiences'

export default defineOperation('listAudiences', ({ database, siteId }) => listAudiences(database, siteId))
