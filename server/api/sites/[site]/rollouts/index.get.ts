import { defineOperation } from '~~/server/http/operation'
import { listRollouts } from '~~/server/services/rollouts/rollouts'

export default defineOperation('listRollouts', ({ database, siteId }) => listRollouts(database, siteId, new Date()))
