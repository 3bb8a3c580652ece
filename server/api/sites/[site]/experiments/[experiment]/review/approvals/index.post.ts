import { approvalLetter } from '~~/server/mail/letters'
import { sendLetter } from '~~/server/mail/sendLetter'
import { defineOperation } from '~~/server/http/operation'
import { askApproval } from '~~/server/services/experiments/review'

export default defineOperation('askApproval', async ({ database, siteId, person, personId, path, body }) => {
  const { ownOrigin, smtpUrl, mailFrom } = useRuntimeConfig()
  const target = { siteId, experimentId: path.experiment, personId }
  const { review, asked } = await askApproval(database, target, body.person)
  const link = `${ownOrigin}/sites/${siteId}/experiments/${path.experiment}#review`
  const letter = approvalLetter(asked.title, person?.name ?? null, link)
  // It is asked for: nobody waits for a mail server.
  void Promise.all(asked.addresses.map((to) => sendLetter({ smtpUrl, mailFrom }, to, letter)))
  return review
})
