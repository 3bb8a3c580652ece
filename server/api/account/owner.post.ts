import { defineOperation } from '~~/server/http/operation'
import { signInHere } from '~~/server/http/session'
import { accountView, createOwner } from '~~/server/services/accounts/accounts'

export default defineOperation('createOwner', async ({ event, database, body }) => {
  const owner = await createOwner(database, body)
  await signInHere(event, owner.id)
  return accountView(database, owner)
})
