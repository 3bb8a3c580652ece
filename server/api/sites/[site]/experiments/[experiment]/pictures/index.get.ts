import { defineOperation } from '~~/server/http/operation'
import { listVariantPictures } from '~~/server/services/pictures/variantPictures'

export default defineOperation('listVariantPictures', ({ database, siteId, path }) =>
  listVariantPictures(database, { siteId, experimentId: path.experiment }, new Date()),
)
