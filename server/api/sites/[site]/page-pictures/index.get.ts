import { defineOperation } from '~~/server/http/operation'
import { listPagePictures } from '~~/server/services/pictures/pagePictures'

export default defineOperation('listPagePictures', ({ database, siteId, query }) =>
  listPagePictures(database, siteId, query),
)
