import { ROLES } from './account'
import { exactly, id, listOf, moment, oneOf, page, text, yesOrNo } from '../api/replyPieces'

export const accountReply = exactly({
  person: exactly({ name: text(), email: text() }).nullable(),
  needsOwner: yesOrNo(),
  sites: listOf(exactly({ id: id(), name: text(), address: text(), timeZone: text(), role: oneOf(...ROLES) })),
  mayAddSites: yesOrNo(),
})

export const invitationReply = exactly({
  organisation: text(),
  role: oneOf(...ROLES),
  email: text(),
  hasAccount: yesOrNo(),
})

export const sessionsReply = page(
  exactly({ id: id(), device: text(), createdAt: moment(), usedAt: moment(), isOwn: yesOrNo() }),
)
