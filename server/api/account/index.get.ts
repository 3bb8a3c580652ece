import { defineOperation } from '~~/server/routing/operation'
import { accountView } from '~~/server/services/accounts/accounts'

export default defineOperation('readAccount', ({ database, person }) => accountView(database, person))
