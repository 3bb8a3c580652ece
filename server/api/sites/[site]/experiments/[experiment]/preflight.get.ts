import { threadFile } from '~~/server/http/deliveryFile'
import { defineOperation } from '~~/server/http/operation'
import { trafficFor } from '~~/server/http/traffic'
import { trustedOrigins } from '~~/server/http/trustedOrigins'
import { preflightReport } from '~~/server/services/experiments/preflightReport'
import { keptPages } from '~~/server/services/sites/keptPages'
import { siteReach } from '~~/server/services/sites/reach'
import { pageTrier } from '~~/server/services/sites/tryPage'
import type { ExperimentSheet } from '~~/shared/experiments/replies'

const fetch = keptPages()

export default defineOperation('readPreflight', async ({ event, database, siteId, path }) => {
  const reach = await siteReach(database, siteId, trustedOrigins(event))
  const tryPage = pageTrier(threadFile('inspectPage'), reach, fetch)
  const look = (sheet: ExperimentSheet, now: Date) => trafficFor(event)('lookAtTraffic', [sheet, now])
  return preflightReport(database, siteId, path.experiment, new Date(), { tryPage, look })
})
