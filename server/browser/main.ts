import { numberFrom, textFrom, untilAskedToEnd } from '../processes/environment'
import { serveBrowsers } from './serveBrowsers'

/** The process whose browsers open pages that are photographed. It knows no secret but its own key. */
serveBrowsers(textFrom('VETCH_BROWSER_KEY')).listen(numberFrom('VETCH_PORT'), '127.0.0.1')
await untilAskedToEnd()
process.exit(0)
