import { defineOperation } from '~~/server/routing/operation'
import { removeEdit } from '~~/server/services/experiments/edits'

export default defineOperation('removeEdit', ({ database, siteId, path, personId, query }) =>
  removeEdit(
    database,
    { siteId, experimentId: path.experiment, variantId: path.variant, personId },
    query.version,
    path.edit,
  ),
)
