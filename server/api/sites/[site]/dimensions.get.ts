import { defineOperation } from '~~/server/routing/operation'
import { readDimensionValues } from '~~/server/services/traffic/traffic'

export default defineOperation('readDimensions', ({ database, siteId }) => readDimensionValues(database, siteId))
