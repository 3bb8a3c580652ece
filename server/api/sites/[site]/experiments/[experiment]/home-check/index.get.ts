import { defineOperation } from '~~/server/http/operation'
import { readHomeCheck } from '~~/server/services/goingHome/lookAtHome'

export default defineOperation('readHomeCheck', ({ database, siteId, path }) =>
  readHomeCheck(database, { siteId, experimentId: path.experiment }),
)
