import { isOwnPath, OWN_PATH } from '../delivery/ownPath'
import { object, string } from '../yup'
import { idSchema } from './sheetParts'

export interface PointingSession {
  token: string
  /** Address to open in the frame, with the token in its fragment. */
  address: string
  /** Path on Vetch of a copy of the page, for pages without the script line. */
  copy: string
  expiresAt: string
}

/** Of a tab in which a variant is open to be changed. */
export const presenceSchema = object({ variant: idSchema.required(), tab: idSchema.required() })

export const pointingSchema = object({
  path: string().trim().test('own-path', OWN_PATH, isOwnPath).max(1000).required(),
})
