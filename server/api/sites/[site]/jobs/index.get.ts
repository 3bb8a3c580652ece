import { listJobs } from '~~/server/jobs/backgroundJobs'
import { defineOperation } from '~~/server/routing/operation'

export default defineOperation('listJobs', ({ database, siteId, query }) => listJobs(database, siteId, query))
