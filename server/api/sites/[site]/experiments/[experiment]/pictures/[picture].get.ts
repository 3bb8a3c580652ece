import { defineOperation } from '~~/server/routing/operation'
import { sendAttachment } from '~~/server/routing/sendAttachment'
import { readVariantPicture } from '~~/server/services/pictures/variantPictures'

export default defineOperation('readVariantPicture', async ({ event, database, siteId, path }) =>
  sendAttachment(event, await readVariantPicture(database, { siteId, experimentId: path.experiment }, path.picture)),
)
