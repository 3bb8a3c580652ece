import { invitationLetter } from '~~/server/mail/letters'
import { sendLetter } from '~~/server/mail/sendLetter'
import { defineOperation } from '~~/server/http/operation'
import { onlyPeople } from '~~/server/http/onlyPeople'
import { createInvitation } from '~~/server/services/accounts/invitations'

export default defineOperation('createInvitation', async ({ database, siteId, person, body }) => {
  const by = onlyPeople(person)
  const { ownOrigin, smtpUrl, mailFrom } = useRuntimeConfig()
  const { secret, organisation, ...made } = await createInvitation(database, { siteId, by }, body)
  const link = `${ownOrigin}/join#${secret}`
  const letter = invitationLetter(organisation, by.name, body.role, link)
  return { ...made, link, isSent: await sendLetter({ smtpUrl, mailFrom }, body.email, letter) }
})
