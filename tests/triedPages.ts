import type { Database } from '../server/database/connect'
import { lookAtTraffic } from '../server/services/experiments/lookAtTraffic'
import type { PreflightTools } from '../server/services/experiments/preflightReport'
import type { TryPage } from '../server/services/experiments/triedPages'

/** Pages on which nothing that is looked for is found. */
export const onEmptyPages: TryPage = () => Promise.resolve({ found: [], policies: [] })

/** What preflight looks with, in this process. */
export const lookingWith = (database: Database, tryPage: TryPage): PreflightTools => ({
  tryPage,
  look: (sheet, now) => lookAtTraffic(database, sheet, now),
})
