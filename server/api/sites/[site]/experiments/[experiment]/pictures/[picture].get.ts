import { defineOperation } from '~~/server/http/operation'
import { sendAttachment } from '~~/server/http/sendAttachment'
import { readVariantPicture } from '~~/server/services/pictures/variantPictures'

export default defineOperation('readVariantPicture', async ({ event, database, siteId, path }) =>
  sendAttachment(event, await readVariantPicture(database, { siteId, experimentId: path.experiment }, path.picture)),
)
