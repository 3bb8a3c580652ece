import { setUserSession } from '#imports'
import { defineOperation } from '~~/server/routing/operation'
import { accountView, createOwner } from '~~/server/services/accounts/accounts'

export default defineOperation('createOwner', async ({ event, database, body }) => {
  const owner = await createOwner(database, body)
  await setUserSession(event, { user: { id: owner.id } })
  return accountView(database, owner)
})
