import { defineOperation } from '~~/server/http/operation'
import { readLimitedBytes } from '~~/server/http/readLimited'
import { addAttachment } from '~~/server/services/attachments'
import { LARGEST_ATTACHMENT } from '~~/shared/findings/finding'

export default defineOperation('addAttachment', async ({ event, database, siteId, personId, path, query }) => {
  const content = await readLimitedBytes(event, LARGEST_ATTACHMENT)
  const target = { siteId, personId, findingId: path.finding }
  return addAttachment(database, target, { name: query.name, content, isPicture: query.isPicture === 'yes' })
})
