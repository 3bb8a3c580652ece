import type { SheetChange } from '~~/core/sheet/change'
import { changeSheet } from '~~/server/services/experiments/changeSheet'
import { defineOperation } from '~~/server/routing/operation'

export default defineOperation('changeExperiment', ({ database, siteId, path, personId, body }) =>
  changeSheet(
    database,
    { siteId, experimentId: path.experiment, personId },
    { id: body.id, change: body.change as SheetChange },
  ),
)
