import { defineOperation } from '~~/server/routing/operation'
import { sendAttachment } from '~~/server/routing/sendAttachment'
import { readAttachment } from '~~/server/services/attachments'

export default defineOperation('readAttachment', async ({ event, database, siteId, path }) =>
  sendAttachment(event, await readAttachment(database, siteId, { findingId: path.finding }, path.attachment)),
)
