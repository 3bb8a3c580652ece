import { ROLES } from './account'
import { exactly, id, moment, oneOf, page, text, yesOrNo } from '../api/replyPieces'

export const memberReply = exactly({
  id: id(),
  name: text(),
  email: text(),
  role: oneOf(...ROLES),
  isSelf: yesOrNo(),
})
export const membersReply = page(memberReply)

const open = {
  id: id(),
  email: text(),
  role: oneOf(...ROLES),
  person: text().nullable(),
  createdAt: moment(),
  expiresAt: moment(),
}
export const invitationsReply = page(exactly(open))
export const newInvitationReply = exactly({ ...open, link: text(), isSent: yesOrNo() })
