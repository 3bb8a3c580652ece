import type { Edit } from '~~/core/edits/edit'
import { defineOperation } from '~~/server/routing/operation'
import { putEdit } from '~~/server/services/experiments/edits'

export default defineOperation('addEdit', ({ database, siteId, path, personId, body }) =>
  putEdit(
    database,
    { siteId, experimentId: path.experiment, variantId: path.variant, personId },
    body.version,
    body.edit as Edit,
  ),
)
