import { cancelJob } from '~~/server/jobs/backgroundJobs'
import { defineOperation } from '~~/server/routing/operation'

export default defineOperation('cancelJob', async ({ database, siteId, path }) => {
  await cancelJob(database, siteId, path.job)
  return { canceled: true }
})
