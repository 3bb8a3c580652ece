import { newInvitationSchema, roleSchema } from './member'
import { pageSchema } from '../api/paging'
import { invitationsReply, memberReply, membersReply, newInvitationReply } from './memberReplies'
import { answers, confirms, type Operation } from '../api/operation'
import { SITE } from '../sites/operations'

/** Who belongs to the organization of a site. */
export const MEMBERS = {
  listMembers: {
    method: 'get',
    path: `${SITE}/members`,
    access: 'viewer',
    summary: 'Who belongs to the organization of a site, a page at a time',
    query: pageSchema,
    reply: answers(membersReply),
  },
  changeRole: {
    method: 'patch',
    path: `${SITE}/members/{member}`,
    access: 'owner',
    summary: 'Give a member another role',
    body: roleSchema,
    reply: answers(memberReply),
  },
  removeMember: {
    method: 'delete',
    path: `${SITE}/members/{member}`,
    access: 'owner',
    summary: 'Remove a member from the organization',
    reply: confirms('removed'),
  },
  listInvitations: {
    method: 'get',
    path: `${SITE}/invitations`,
    access: 'owner',
    summary: 'Who was asked to join and has not answered, a page at a time',
    query: pageSchema,
    reply: answers(invitationsReply),
  },
  createInvitation: {
    method: 'post',
    path: `${SITE}/invitations`,
    access: 'owner',
    summary: 'Ask somebody to join; the link is shown once',
    body: newInvitationSchema,
    reply: answers(newInvitationReply),
  },
  revokeInvitation: {
    method: 'delete',
    path: `${SITE}/invitations/{invitation}`,
    access: 'owner',
    summary: 'Take an invitation back',
    reply: confirms('revoked'),
  },
} as const satisfies Record<string, Operation>
