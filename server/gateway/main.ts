import { connect } from '../database/connect'
import { parseNetworks } from '../http/clientAddress'
import { listFrom, numberFrom, textFrom, untilAskedToEnd } from '../processes/environment'
import { beginBeating } from '../processes/ownBeat'
import { createGateway } from './gateway'

/** The process that listens where everybody asks. */
const server = createGateway({
  edges: listFrom('VETCH_EDGES'),
  webs: listFrom('VETCH_WEBS'),
  trusted: parseNetworks(listFrom('NUXT_TRUSTED_PROXIES')),
})
server.listen(numberFrom('VETCH_PORT'), process.env.VETCH_HOST ?? '127.0.0.1')
const beat = beginBeating(connect(textFrom('NUXT_DATABASE_URL'), 1), 'gateway')
await untilAskedToEnd()
await beat.end()
process.exit(0)
