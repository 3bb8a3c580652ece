import { WEBHOOK_KINDS } from '../../core/notifications/occurrence'
import { array, boolean, object, string, type InferType } from '../yup'

const address = string()
  .trim()
  .max(1000, 'The address is longer than 1,000 characters.')
  .required('Type the address of the program.')
  .test(
    'address',
    'Type the address with https:// or http://, such as https://hooks.example.test/vetch.',
    (value) => URL.canParse(value) && /^https?:$/.test(new URL(value).protocol),
  )
  .test(
    'no-password',
    'An address with a name and a password is not sent to. Leave them out: each message is signed.',
    (value) => !URL.canParse(value) || (new URL(value).username === '' && new URL(value).password === ''),
  )
const kinds = array(string().oneOf(WEBHOOK_KINDS, 'There is no such kind.').required())
  .min(1, 'Choose one kind at least.')
  .max(WEBHOOK_KINDS.length)
  .required('Choose what is sent.')

export const webhookSchema = object({ address, kinds }).noUnknown()
export type WebhookInput = InferType<typeof webhookSchema>
export const webhookChangeSchema = object({ address, kinds, isOn: boolean().required() }).noUnknown()
export type WebhookChange = InferType<typeof webhookChangeSchema>
