import type { InferType } from '../yup'
import { ROLES } from './account'
import { exactly, id, moment, oneOf, page, text, yesOrNo } from '../api/replyPieces'

export const memberReply = exactly({
  id: id(),
  name: text(),
  email: text(),
  role: oneOf(...ROLES),
  /** The one who asks. */
  isSelf: yesOrNo(),
})
/** Somebody of the organisation that a site belongs to. */
export type MemberView = InferType<typeof memberReply>

export const membersReply = page(memberReply)

const open = {
  id: id(),
  email: text(),
  role: oneOf(...ROLES),
  person: text().nullable(),
  createdAt: moment(),
  expiresAt: moment(),
}
const openInvitation = exactly(open)
/** Somebody who was asked to join and has not answered yet. */
export type OpenInvitation = InferType<typeof openInvitation>

export const invitationsReply = page(openInvitation)
export const newInvitationReply = exactly({
  ...open,
  /** The way in: shown this once. */
  link: text(),
  /** Whether a letter with it went out. */
  isSent: yesOrNo(),
})
export type NewInvitation = InferType<typeof newInvitationReply>
