import { ROLES } from './account'
import type { MemberView, NewInvitation, OpenInvitation } from './member'
import { exactly, id, moment, oneOf, page, text, yesOrNo } from '../api/replyPieces'

export const memberReply = exactly<MemberView>({
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
export const invitationsReply = page(exactly<OpenInvitation>(open))
export const newInvitationReply = exactly<NewInvitation>({ ...open, link: text(), isSent: yesOrNo() })
