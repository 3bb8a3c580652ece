import { join } from 'node:path'
import { connect } from '../database/connect'
import { beginBeating } from '../processes/ownBeat'
import { numberFrom, textFrom, untilAskedToEnd } from '../processes/environment'
import { openEvidenceThread } from '../services/evidence/askEvidence'
import { reportsKey } from './reportsKey'
import { serveReports } from './serveReports'

/** The process that holds visits in memory and answers reports. */
const databaseUrl = textFrom('NUXT_DATABASE_URL')
const database = connect(databaseUrl, 1)
const thread = openEvidenceThread(join(textFrom('NUXT_DELIVERY_DIRECTORY'), '../threads/evidence.mjs'), databaseUrl)
const server = serveReports(thread, reportsKey(textFrom('NUXT_SESSION_PASSWORD')))
server.listen(numberFrom('VETCH_PORT'), '127.0.0.1')
const beat = beginBeating(database, 'reports')
await untilAskedToEnd()
await beat.end()
process.exit(0)
