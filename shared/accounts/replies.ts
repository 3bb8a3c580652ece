import { ROLES, type AccountView, type InvitationView, type SessionView, type SiteRef } from './account'
import { exactly, id, listOf, moment, oneOf, page, text, yesOrNo } from '../api/replyPieces'

export const accountReply = exactly<AccountView>({
  person: exactly<NonNullable<AccountView['person']>>({ name: text(), email: text() }).nullable(),
  needsOwner: yesOrNo(),
  sites: listOf(exactly<SiteRef>({ id: id(), name: text(), address: text(), timeZone: text(), role: oneOf(...ROLES) })),
  mayAddSites: yesOrNo(),
})

export const invitationReply = exactly<InvitationView>({
  organisation: text(),
  role: oneOf(...ROLES),
  email: text(),
  hasAccount: yesOrNo(),
})

export const sessionsReply = page(
  exactly<SessionView>({ id: id(), device: text(), createdAt: moment(), usedAt: moment(), isOwn: yesOrNo() }),
)
