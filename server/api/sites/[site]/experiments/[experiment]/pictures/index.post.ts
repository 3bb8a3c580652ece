import { senderQueue } from '~~/server/jobs/senderQueue'
import { defineOperation } from '~~/server/http/operation'
import { takePictures } from '~~/server/services/pictures/variantPictures'

export default defineOperation('takeVariantPictures', async ({ database, siteId, path, body }) =>
  takePictures(database, await senderQueue(), { siteId, experimentId: path.experiment }, body, new Date()),
)
