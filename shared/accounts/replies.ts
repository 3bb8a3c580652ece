import type { InferType } from '../yup'
import { ROLES } from './account'
import { exactly, id, listOf, moment, oneOf, page, text, yesOrNo } from '../api/replyPieces'

const siteRef = exactly({
  id: id(),
  name: text(),
  address: text(),
  /** Reporting time zone. */
  timeZone: text(),
  role: oneOf(...ROLES),
})
export type SiteRef = InferType<typeof siteRef>

export const accountReply = exactly({
  person: exactly({ name: text(), email: text() }).nullable(),
  /** Nobody has an account yet: the first visitor of the application creates the owner. */
  needsOwner: yesOrNo(),
  sites: listOf(siteRef),
  mayAddSites: yesOrNo(),
})
/** Who is signed in, and what they may see. */
export type AccountView = InferType<typeof accountReply>

export const invitationReply = exactly({
  organisation: text(),
  role: oneOf(...ROLES),
  email: text(),
  /** Whether the address has an account here already. */
  hasAccount: yesOrNo(),
})
/** What somebody who was asked to join sees before they do. */
export type InvitationView = InferType<typeof invitationReply>

const session = exactly({
  id: id(),
  device: text(),
  createdAt: moment(),
  usedAt: moment(),
  /** The one that asks. */
  isOwn: yesOrNo(),
})
/** One place where somebody is signed in. */
export type SessionView = InferType<typeof session>

export const sessionsReply = page(session)
