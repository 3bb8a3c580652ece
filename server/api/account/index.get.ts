import { defineOperation } from '~~/server/http/operation'
import { accountView } from '~~/server/services/accounts/accounts'

export default defineOperation('readAccount', ({ database, person }) => accountView(database, person))
