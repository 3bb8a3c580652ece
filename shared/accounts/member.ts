import { object, string } from '../yup'
import { ROLES, type Role } from './account'

const role = string().oneOf(ROLES, 'Choose a role.').required('Choose a role.')

export const roleSchema = object({ role })
export const newInvitationSchema = object({
  email: string()
    .trim()
    .email('Type an e-mail address, such as mara@example.test.')
    .max(200)
    .required('Type the e-mail address of whom you invite.'),
  role,
})

/** Somebody of the organisation that a site belongs to. */
export interface MemberView {
  id: number
  name: string
  email: string
  role: Role
  /** The one who asks. */
  isSelf: boolean
}

/** Somebody who was asked to join and has not answered yet. */
export interface OpenInvitation {
  id: number
  email: string
  role: Role
  person: string | null
  createdAt: string
  expiresAt: string
}

export interface NewInvitation extends OpenInvitation {
  /** The way in: shown this once. */
  link: string
  /** Whether a letter with it went out. */
  isSent: boolean
}
