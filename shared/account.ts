import { object, string } from 'yup'

export const ROLES = ['viewer', 'editor', 'owner'] as const
export type Role = (typeof ROLES)[number]

const email = string()
  .trim()
  .email('Type an e-mail address, such as mara@example.test.')
  .max(200)
  .required('Type your e-mail address.')

export const signInSchema = object({
  email,
  password: string().max(200, 'The password is longer than 200 characters.').required('Type your password.'),
})

export const ownerSchema = object({
  name: string().trim().max(100).required('Type your name.'),
  email,
  organisation: string().trim().max(100).required('Type the name of your organisation.'),
  password: string()
    .min(10, 'Use at least 10 characters.')
    .max(200, 'The password is longer than 200 characters.')
    .required('Choose a password.'),
})

export interface SiteRef {
  id: number
  name: string
  address: string
  /** Reporting time zone. */
  timeZone: string
  role: Role
}

/** Who is signed in, and what they may see. */
export interface AccountView {
  person: { name: string; email: string } | null
  /** Nobody has an account yet: the first visitor of the application creates the owner. */
  needsOwner: boolean
  sites: SiteRef[]
  mayAddSites: boolean
}

/** One place where somebody is signed in. */
export interface SessionView {
  id: number
  device: string
  createdAt: string
  usedAt: string
  /** The one that asks. */
  isOwn: boolean
}
