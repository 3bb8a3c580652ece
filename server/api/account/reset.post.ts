import { defineOperation } from '~~/server/http/operation'
import { spendReset } from '~~/server/services/accounts/passwordReset'

export default defineOperation('resetPassword', async ({ database, body }) => {
  await spendReset(database, body.key, body.password)
  return { changed: true }
})
