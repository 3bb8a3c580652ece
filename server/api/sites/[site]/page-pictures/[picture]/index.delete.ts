import { defineOperation } from '~~/server/http/operation'
import { deletePagePicture } from '~~/server/services/pictures/pagePictures'

export default defineOperation('deletePagePicture', async ({ database, siteId, path }) => {
  await deletePagePicture(database, siteId, path.picture)
  return { deleted: true }
})
