import { object, string } from '../yup'
import type { Role } from './account'

export const TOKEN_SCOPES = ['read', 'edit', 'manage'] as const
export type TokenScope = (typeof TOKEN_SCOPES)[number]

/** What a token with a scope may do, as the role that may do the same. */
export const ROLE_OF_SCOPE: Readonly<Record<TokenScope, Role>> = { read: 'viewer', edit: 'editor', manage: 'owner' }

export const newTokenSchema = object({
  name: string()
    .trim()
    .max(80, 'The name is longer than 80 characters.')
    .required('Name the program that will use it.'),
  scope: string().oneOf(TOKEN_SCOPES, 'The scope is read, edit or manage.').required('Say what the program may do.'),
})
