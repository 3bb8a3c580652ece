import type { SheetChange } from '~~/core/sheet/change'
import { senderQueue } from '~~/server/jobs/senderQueue'
import { defineOperation } from '~~/server/http/operation'
import { changeSheet } from '~~/server/services/experiments/changeSheet'
import { renewPictures } from '~~/server/services/pictures/variantPictures'

export default defineOperation('changeExperiment', async ({ database, siteId, path, personId, body }) => {
  const target = { siteId, experimentId: path.experiment, personId }
  const sheet = await changeSheet(database, target, { id: body.id, change: body.change as SheetChange })
  await renewPictures(database, senderQueue, sheet)
  return sheet
})
