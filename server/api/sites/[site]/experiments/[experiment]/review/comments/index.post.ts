import { mentionLetter } from '~~/server/mail/letters'
import { sendLetter } from '~~/server/mail/sendLetter'
import { defineOperation } from '~~/server/http/operation'
import { addComment } from '~~/server/services/experiments/review'

export default defineOperation('addExperimentComment', async ({ database, siteId, person, personId, path, body }) => {
  const { ownOrigin, smtpUrl, mailFrom } = useRuntimeConfig()
  const target = { siteId, experimentId: path.experiment, personId }
  const { review, mentioned } = await addComment(database, target, body.words)
  const link = `${ownOrigin}/sites/${siteId}/experiments/${path.experiment}#review`
  const letter = mentionLetter(mentioned.title, person?.name ?? null, body.words, link)
  // What was said is kept: nobody waits for a mail server.
  void Promise.all(mentioned.addresses.map((to) => sendLetter({ smtpUrl, mailFrom }, to, letter)))
  return review
})
