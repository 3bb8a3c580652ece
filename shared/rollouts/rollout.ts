import { MOST_HELD_BACK } from '../../core/sheet/heldBack'
import { array, boolean, number, object, type InferType } from '../yup'

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

/** The same at the end of an experiment, where some may be held back. */
export const servedAfterSchema = rolloutSchema.shape({
  /** Of 10,000 buckets: who sees the original, so that the effect is known. */
  heldBack: number()
    .typeError('Type the held-back share in percent.')
    .integer('The share has at most two decimals.')
    .min(0, 'A share is 0 % at least.')
    .max(MOST_HELD_BACK, 'At most half is held back: with more it is a test. Type a smaller share.')
    .default(0),
})
export type ServedAfter = InferType<typeof servedAfterSchema>

/** All that is served, by its ids, in the order in which browsers shall apply it. */
export const servedOrderSchema = object({
  order: array(number().integer().min(1).required())
    .max(1000, 'At most 1,000 things are served.')
    .required('Name all that is served, in its order.'),
})

export const rolloutChangeSchema = object({
  version: number().integer().required('Say which version was read.'),
  share: share().optional(),
  isForEverybody: boolean().optional(),
  isOn: boolean().optional(),
})
export type RolloutChange = InferType<typeof rolloutChangeSchema>
