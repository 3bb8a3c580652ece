import { defineOperation } from '~~/server/http/operation'
import { endHoldout } from '~~/server/services/traffic/holdouts'

export default defineOperation('endHoldout', ({ database, siteId, personId, path }) =>
  endHoldout(database, siteId, personId, path.holdout, new Date()),
)
