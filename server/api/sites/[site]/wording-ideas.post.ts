import { useRuntimeConfig } from '#imports'
import { defineOperation } from '~~/server/http/operation'
import { findWordings } from '~~/server/services/wording/assistant'

export default defineOperation('findWordings', ({ event, body }) => {
  const { assistantUrl, assistantKey, assistantModel } = useRuntimeConfig(event)
  return findWordings(body, { url: assistantUrl, key: assistantKey, model: assistantModel })
})
