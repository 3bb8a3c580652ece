import { useRuntimeConfig } from '#imports'
import { threadFile } from '~~/server/http/deliveryFile'
import { defineOperation } from '~~/server/http/operation'
import { preflightReport } from '~~/server/services/experiments/preflightReport'
import { pageTrier } from '~~/server/services/sites/tryPage'

export default defineOperation('readPreflight', ({ event, database, siteId, path }) => {
  const trusted = useRuntimeConfig(event).demoOrigins.split(',').filter(Boolean)
  const tryPage = pageTrier(threadFile('inspectPage'), trusted)
  return preflightReport(database, siteId, path.experiment, new Date(), tryPage)
})
