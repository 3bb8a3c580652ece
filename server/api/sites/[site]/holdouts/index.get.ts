import { defineOperation } from '~~/server/http/operation'
import { listHoldouts } from '~~/server/services/traffic/holdouts'

export default defineOperation('listHoldouts', ({ database, siteId }) => listHoldouts(database, siteId, new Date()))
