import { defineOperation } from '~~/server/http/operation'
import { sampleEvents } from '~~/server/services/evidence/eventSample'

export default defineOperation('sampleEvents', ({ database, siteId, query }) => sampleEvents(database, siteId, query))
