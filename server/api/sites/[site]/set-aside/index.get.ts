import { defineOperation } from '~~/server/http/operation'
import { readSetAside } from '~~/server/services/results/setAside'

export default defineOperation('readSetAside', ({ database, siteId }) => readSetAside(database, siteId))
