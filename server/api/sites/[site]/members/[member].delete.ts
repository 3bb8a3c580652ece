import { defineOperation } from '~~/server/http/operation'
import { onlyPeople } from '~~/server/http/onlyPeople'
import { removeMember } from '~~/server/services/accounts/members'

export default defineOperation('removeMember', async ({ database, siteId, person, path }) => {
  await removeMember(database, { siteId, personId: onlyPeople(person).id, memberId: path.member })
  return { removed: true }
})
