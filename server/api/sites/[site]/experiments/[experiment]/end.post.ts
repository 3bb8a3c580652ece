import { defineOperation } from '~~/server/http/operation'
import { endExperiment } from '~~/server/services/experiments/endExperiment'

export default defineOperation('endExperiment', ({ database, siteId, path, person, personId, body }) => {
  const { rollout, ...decision } = body
  const target = { siteId, experimentId: path.experiment, personId }
  return endExperiment(database, target, { ...decision, person: person?.name ?? null }, rollout)
})
