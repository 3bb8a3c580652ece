import { defineOperation } from '~~/server/http/operation'
import { drawPersonKey } from '~~/server/services/sites/personKey'

export default defineOperation('drawPersonKey', ({ database, siteId, personId }) =>
  drawPersonKey(database, { siteId, personId }),
)
