import { useRuntimeConfig } from '#imports'
import { threadFile } from '~~/server/http/deliveryFile'
import { defineOperation } from '~~/server/http/operation'
import { trafficFor } from '~~/server/http/traffic'
import { preflightReport } from '~~/server/services/experiments/preflightReport'
import { pageTrier } from '~~/server/services/sites/tryPage'
import type { ExperimentSheet } from '~~/shared/experiments/replies'

export default defineOperation('readPreflight', ({ event, database, siteId, path }) => {
  const trusted = useRuntimeConfig(event).demoOrigins.split(',').filter(Boolean)
  const tryPage = pageTrier(threadFile('inspectPage'), trusted)
  const look = (sheet: ExperimentSheet, now: Date) => trafficFor(event)('lookAtTraffic', [sheet, now])
  return preflightReport(database, siteId, path.experiment, new Date(), { tryPage, look })
})
