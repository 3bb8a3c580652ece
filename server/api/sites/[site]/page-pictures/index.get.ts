import { defineOperation } from '~~/server/routing/operation'
import { listPagePictures } from '~~/server/services/pictures/pagePictures'

export default defineOperation('listPagePictures', ({ database, siteId, query }) =>
  listPagePictures(database, siteId, query),
)
