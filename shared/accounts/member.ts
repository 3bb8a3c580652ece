import { object, string } from '../yup'
import { ROLES } from './account'

const role = string().oneOf(ROLES, 'Choose a role.').required('Choose a role.')

export const roleSchema = object({ role })
export const newInvitationSchema = object({
  email: string()
    .trim()
    .email('Type an e-mail address, such as mara@example.test.')
    .max(200)
    .required('Type the e-mail address of the person you invite.'),
  role,
})
