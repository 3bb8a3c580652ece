import { defineOperation } from '~~/server/routing/operation'
import { signOutHere } from '~~/server/routing/session'

export default defineOperation('signOut', async ({ event }) => {
  await signOutHere(event)
  return { signedOut: true }
})
