import { defineOperation } from '~~/server/http/operation'
import { sendAttachment } from '~~/server/http/sendAttachment'
import { readPagePicture } from '~~/server/services/pictures/pagePictures'

export default defineOperation('readPagePicture', async ({ event, database, siteId, path }) =>
  sendAttachment(event, await readPagePicture(database, siteId, path.picture)),
)
