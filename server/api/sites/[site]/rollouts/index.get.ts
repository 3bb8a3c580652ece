import { defineOperation } from '~~/server/routing/operation'
import { listRollouts } from '~~/server/services/rollouts/rollouts'

export default defineOperation('listRollouts', ({ database, siteId }) => listRollouts(database, siteId, new Date()))
