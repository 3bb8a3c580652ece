import { defineOperation } from '~~/server/http/operation'
import { trafficForAll } from '~~/server/http/traffic'
import { roleOnSite } from '~~/server/services/accounts/accounts'
import { today } from '~~/server/services/today'
import type { ExperimentSheet } from '~~/shared/experiments/replies'

export default defineOperation('readToday', async ({ database, siteId, personId }) => {
  const isViewer = personId !== null && (await roleOnSite(database, personId, siteId)) === 'viewer'
  const look = (sheet: ExperimentSheet, now: Date) => trafficForAll()('lookAtTraffic', [sheet, now])
  return today(database, siteId, new Date(), personId, isViewer ? undefined : look)
})
