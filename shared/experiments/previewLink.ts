import { isOwnPath, OWN_PATH } from '../delivery/ownPath'
import { number, object, string } from '../yup'
import { idSchema } from './sheetParts'

/** Longest time that a link to a preview holds, in days. */
export const MOST_PREVIEW_DAYS = 30

export const previewSchema = object({
  variant: idSchema.required(),
  path: string().trim().test('own-path', OWN_PATH, isOwnPath).max(1000).required('Say which page the link opens.'),
  days: number()
    .typeError('Say for how many days.')
    .integer('Say for how many whole days.')
    .min(1, 'A link holds for at least a day.')
    .max(MOST_PREVIEW_DAYS, `A link holds for at most ${MOST_PREVIEW_DAYS} days.`)
    .required('Say for how many days.'),
})
