import { number, object, string, type InferType } from '../yup'

/** Experiments that exclude each other: with buckets of their own, or taking turns. */
export const groupSchema = object({
  name: string().trim().max(80, 'The name is longer than 80 characters.').required('Give the group a name.'),
  kind: string()
    .oneOf(['parts', 'turns'] as const, 'Choose how its experiments share visitors.')
    .required('Choose how its experiments share visitors.'),
})
export type GroupInput = InferType<typeof groupSchema>

export const holdoutSchema = object({
  name: string().trim().max(80, 'The name is longer than 80 characters.').required('Give the holdout a name.'),
  share: number()
    .typeError('Type the share in percent.')
    .integer('The share has at most two decimals.')
    .min(1, 'A holdout keeps out at least 0.01 %.')
    .max(5000, 'A holdout keeps out at most 50 %.')
    .required('Type the share in percent.'),
  until: string()
    .matches(/^\d{4}-\d{2}-\d{2}$/, 'Say until which day.')
    .required('Say until which day.'),
})
export type HoldoutInput = InferType<typeof holdoutSchema>
