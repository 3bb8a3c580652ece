import { ownerSchema, signInSchema, type AccountView, type SessionView } from '../account'
import { answers, type Operation } from './operation'

export const ACCOUNT = {
  readAccount: {
    method: 'get',
    path: '/api/account',
    access: 'anyone',
    summary: 'Who is signed in and which sites they may see',
    reply: answers<AccountView>(),
  },
  createOwner: {
    method: 'post',
    path: '/api/account/owner',
    access: 'anyone',
    summary: 'Create the first account; refused once there is one',
    body: ownerSchema,
    reply: answers<AccountView>(),
  },
  signIn: {
    method: 'post',
    path: '/api/account/sign-in',
    access: 'anyone',
    summary: 'Sign in',
    body: signInSchema,
    reply: answers<AccountView>(),
  },
  signOut: {
    method: 'post',
    path: '/api/account/sign-out',
    access: 'anyone',
    summary: 'Sign out',
    reply: answers<{ signedOut: boolean }>(),
  },
  listSessions: {
    method: 'get',
    path: '/api/account/sessions',
    access: 'person',
    summary: 'Where one is signed in oneself',
    reply: answers<SessionView[]>(),
  },
  endSession: {
    method: 'delete',
    path: '/api/account/sessions/{session}',
    access: 'person',
    summary: 'Sign out somewhere else',
    reply: answers<{ ended: boolean }>(),
  },
} as const satisfies Record<string, Operation>
