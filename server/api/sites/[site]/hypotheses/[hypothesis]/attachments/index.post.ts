import { defineOperation } from '~~/server/http/operation'
import { readLimitedBytes } from '~~/server/http/readLimited'
import { addAttachment } from '~~/server/services/attachments'
import { LARGEST_ATTACHMENT } from '~~/shared/findings/finding'

export default defineOperation('addHypothesisFile', async ({ event, database, siteId, personId, path, query }) => {
  const content = await readLimitedBytes(event, LARGEST_ATTACHMENT)
  const target = { siteId, personId, hypothesisId: path.hypothesis }
  return addAttachment(database, target, { name: query.name, content, isPicture: query.isPicture === 'yes' })
})
