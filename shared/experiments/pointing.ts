import { isOwnPath, OWN_PATH } from '../delivery/ownPath'
import { object, string } from '../yup'
import { idSchema } from './sheetParts'

/** Of a tab in which a variant is open to be changed. */
export const presenceSchema = object({ variant: idSchema.required(), tab: idSchema.required() })

export const pointingSchema = object({
  path: string().trim().test('own-path', OWN_PATH, isOwnPath).max(1000).required(),
})
