import { defineOperation } from '~~/server/http/operation'
import { onlyPeople } from '~~/server/http/onlyPeople'
import { changeRole } from '~~/server/services/accounts/members'

export default defineOperation('changeRole', ({ database, siteId, person, path, body }) =>
  changeRole(database, { siteId, personId: onlyPeople(person).id, memberId: path.member }, body.role),
)
