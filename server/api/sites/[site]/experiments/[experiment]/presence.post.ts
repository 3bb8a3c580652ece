import { defineOperation } from '~~/server/http/operation'
import { announce } from '~~/server/news/announce'
import { findSheet } from '~~/server/services/experiments/sheet'

export default defineOperation('tellPresence', async ({ database, siteId, person, path, body }) => {
  await findSheet(database, siteId, path.experiment)
  const presence = { experiment: path.experiment, variant: body.variant, tab: body.tab }
  await announce(database, siteId, { kind: 'presence', ...presence, person: person?.name ?? 'A program' })
  return { told: true as const }
})
