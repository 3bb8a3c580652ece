import { defineOperation } from '~~/server/routing/operation'
import { readInvitation } from '~~/server/services/accounts/invitations'

export default defineOperation('readInvitation', ({ database, body }) => readInvitation(database, body.key))
