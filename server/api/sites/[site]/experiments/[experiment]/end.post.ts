import { defineOperation } from '~~/server/http/operation'
import { endExperiment } from '~~/server/services/experiments/experiments'

export default defineOperation('endExperiment', ({ database, siteId, path, person, personId, body }) =>
  endExperiment(
    database,
    { siteId, experimentId: path.experiment, personId },
    { ...body, person: person?.name ?? null },
  ),
)
