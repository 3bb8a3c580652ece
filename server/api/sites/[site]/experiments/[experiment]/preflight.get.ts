import { useRuntimeConfig } from '#imports'
import { threadFile } from '~~/server/routing/deliveryFile'
import { defineOperation } from '~~/server/routing/operation'
import { preflightReport } from '~~/server/services/experiments/preflightReport'
import { fetchPage } from '~~/server/services/sites/fetchPage'
import { inspectInThread } from '~~/server/services/sites/inspectInThread'

export default defineOperation('readPreflight', ({ event, database, siteId, path }) => {
  const trusted = useRuntimeConfig(event).demoOrigins.split(',').filter(Boolean)
  return preflightReport(database, siteId, path.experiment, new Date(), async (address, selectors) => {
    const { html } = await fetchPage(address, trusted)
    return inspectInThread(threadFile('inspectPage'), { look: 'elements', html, selectors })
  })
})
