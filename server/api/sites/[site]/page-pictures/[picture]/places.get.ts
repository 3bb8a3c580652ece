import { defineOperation } from '~~/server/routing/operation'
import { readPlaces } from '~~/server/services/pictures/pagePictures'

export default defineOperation('readPagePlaces', ({ database, siteId, path }) =>
  readPlaces(database, siteId, path.picture),
)
