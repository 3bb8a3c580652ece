import { ownerSchema, signInSchema, type AccountView, type SessionView } from '../account'
import { pageSchema, type Paged } from '../paging'
import { accountReply, sessionsReply } from '../replies/account'
import { answers, confirms, type Operation } from './operation'

export const ACCOUNT = {
  readAccount: {
    method: 'get',
    path: '/api/account',
    access: 'anyone',
    summary: 'Who is signed in and which sites they may see',
    reply: answers<AccountView>(accountReply),
  },
  createOwner: {
    method: 'post',
    path: '/api/account/owner',
    access: 'anyone',
    summary: 'Create the first account; refused once there is one',
    body: ownerSchema,
    reply: answers<AccountView>(accountReply),
  },
  signIn: {
    method: 'post',
    path: '/api/account/sign-in',
    access: 'anyone',
    summary: 'Sign in',
    body: signInSchema,
    reply: answers<AccountView>(accountReply),
  },
  signOut: {
    method: 'post',
    path: '/api/account/sign-out',
    access: 'anyone',
    summary: 'Sign out',
    reply: confirms('signedOut'),
  },
  listSessions: {
    method: 'get',
    path: '/api/account/sessions',
    access: 'person',
    summary: 'Where one is signed in oneself, a page at a time',
    query: pageSchema,
    reply: answers<Paged<SessionView>>(sessionsReply),
  },
  endSession: {
    method: 'delete',
    path: '/api/account/sessions/{session}',
    access: 'person',
    summary: 'Sign out somewhere else',
    reply: confirms('ended'),
  },
} as const satisfies Record<string, Operation>
