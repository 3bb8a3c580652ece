import { defineOperation } from '~~/server/http/operation'
import { readPlaces } from '~~/server/services/pictures/pagePictures'

export default defineOperation('readPagePlaces', ({ database, siteId, path }) =>
  readPlaces(database, siteId, path.picture),
)
