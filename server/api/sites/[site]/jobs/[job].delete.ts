import { cancelJob } from '~~/server/jobs/backgroundJobs'
import { defineOperation } from '~~/server/http/operation'

export default defineOperation('cancelJob', async ({ database, siteId, path }) => {
  await cancelJob(database, siteId, path.job)
  return { canceled: true }
})
