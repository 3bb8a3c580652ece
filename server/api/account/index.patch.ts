import { defineOperation } from '~~/server/http/operation'
import { accountView } from '~~/server/services/accounts/accounts'
import { renamePerson } from '~~/server/services/accounts/profile'

export default defineOperation('updateProfile', async ({ database, personId, body }) =>
  accountView(database, await renamePerson(database, personId!, body.name)),
)
