import { defineOperation } from '~~/server/http/operation'
import { sendAttachment } from '~~/server/http/sendAttachment'
import { readAttachment } from '~~/server/services/attachments'

export default defineOperation('readAttachment', async ({ event, database, siteId, path }) =>
  sendAttachment(event, await readAttachment(database, siteId, { findingId: path.finding }, path.attachment)),
)
