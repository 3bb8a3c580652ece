import { defineOperation } from '~~/server/routing/operation'
import { listAudiences } from '~~/server/services/audiences/savedAudiences'

export default defineOperation('listAudiences', ({ database, siteId }) => listAudiences(database, siteId))
