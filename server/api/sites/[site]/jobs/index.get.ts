import { listJobs } from '~~/server/jobs/backgroundJobs'
import { defineOperation } from '~~/server/http/operation'

export default defineOperation('listJobs', ({ database, siteId, query }) => listJobs(database, siteId, query))
