import { SPLIT_CAUSES } from '../../core/traffic/splitCauses'
import { object, string, type InferType } from '../yup'

/** Why a split was not as set, and whether the experiment is ended and begun anew as a copy. */
export const splitSettlementSchema = object({
  cause: string()
    .oneOf([...SPLIT_CAUSES, 'other'] as const, 'Choose one of the causes.')
    .required('Choose the cause.'),
  words: string()
    .trim()
    .max(1000, 'The explanation is longer than 1,000 characters.')
    .required('Say what you found, for those who read the numbers.'),
  act: string()
    .oneOf(['name', 'restart'] as const, 'Name the cause, or restart as a copy.')
    .default('name'),
}).noUnknown()
export type SplitSettlementInput = InferType<typeof splitSettlementSchema>
