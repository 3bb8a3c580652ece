import { defineOperation } from '~~/server/routing/operation'
import { accountSession } from '~~/server/routing/session'

export default defineOperation('signOut', async ({ event }) => {
  await (await accountSession(event)).clear()
  return { signedOut: true }
})
