import { clearUserSession } from '#imports'
import { defineOperation } from '~~/server/routing/operation'

export default defineOperation('signOut', async ({ event }) => {
  await clearUserSession(event)
  return { signedOut: true }
})
