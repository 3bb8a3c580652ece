import { defineOperation } from '~~/server/http/operation'
import { signOutHere } from '~~/server/http/session'

export default defineOperation('signOut', async ({ event }) => {
  await signOutHere(event)
  return { signedOut: true }
})
