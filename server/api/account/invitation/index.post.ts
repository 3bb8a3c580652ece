import { defineOperation } from '~~/server/http/operation'
import { readInvitation } from '~~/server/services/accounts/invitations'

export default defineOperation('readInvitation', ({ database, body }) => readInvitation(database, body.key))
