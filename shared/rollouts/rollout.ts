import { boolean, number, object, type InferType } from '../yup'

const share = () =>
  number()
    .typeError('Type the share in percent.')
    .integer('The share has at most two decimals.')
    .min(1, 'A rollout is for 0.01 % of the visitors at least. To serve it to nobody, stop it.')
    .max(10_000, 'A share is 100 % at most.')

/** To whom the variant goes that an ended experiment keeps. */
export const rolloutSchema = object({
  /** Of 10,000 buckets. */
  share: share().default(10_000),
  /** Whether the audience of the experiment does not count any more. */
  isForEverybody: boolean().default(false),
})
export type RolloutInput = InferType<typeof rolloutSchema>

export const rolloutChangeSchema = object({
  version: number().integer().required('Say which version was read.'),
  share: share().optional(),
  isForEverybody: boolean().optional(),
  isOn: boolean().optional(),
})
export type RolloutChange = InferType<typeof rolloutChangeSchema>
