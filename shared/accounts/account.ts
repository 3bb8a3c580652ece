import { object, string } from '../yup'

export const ROLES = ['viewer', 'editor', 'owner'] as const
export type Role = (typeof ROLES)[number]

const email = string()
  .trim()
  .email('Type an e-mail address, such as mara@example.test.')
  .max(200)
  .required('Type your e-mail address.')

/** Characters that a password has at least. */
export const LEAST_PASSWORD = 12

const newPassword = string()
  .min(LEAST_PASSWORD, `Use at least ${LEAST_PASSWORD} characters.`)
  .max(200, 'The password is longer than 200 characters.')
  .required('Choose a password.')
const personName = string().trim().max(100, 'The name is longer than 100 characters.').required('Type your name.')
/** The secret of a link. */
const key = string().strict().typeError('The link is not complete.').max(100).required('The link is not complete.')

export const signInSchema = object({
  email,
  password: string().max(200, 'The password is longer than 200 characters.').required('Type your password.'),
})

export const ownerSchema = object({
  name: personName,
  email,
  organisation: string().trim().max(100).required('Type the name of your organization.'),
  password: newPassword,
})

export const profileSchema = object({ name: personName })

export const passwordChangeSchema = object({
  current: string().max(200).required('Type the password that you have now.'),
  password: newPassword,
})

export const resetRequestSchema = object({ email })
export const resetSchema = object({ key, password: newPassword })

export const invitationKeySchema = object({ key })
/** Who is known signs in with the password they have; who is new chooses name and password. */
export const acceptInvitationSchema = object({
  key,
  name: string().trim().max(100, 'The name is longer than 100 characters.').default(''),
  password: string().max(200, 'The password is longer than 200 characters.').required('Type a password.'),
})
