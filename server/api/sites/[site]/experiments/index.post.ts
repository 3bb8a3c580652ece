import { defineOperation } from '~~/server/http/operation'
import { createExperiment } from '~~/server/services/experiments/experiments'

export default defineOperation('createExperiment', ({ database, siteId, personId, body }) =>
  createExperiment(database, siteId, personId, body.name, body.purpose),
)
