import type { ExperimentState } from '../experiments/experiment'
import { number, object, string, type InferType } from '../yup'

/** Experiments that exclude each other: with buckets of their own, or taking turns. */
export const groupSchema = object({
  name: string().trim().max(80, 'The name is longer than 80 characters.').required('Give the group a name.'),
  kind: string()
    .oneOf(['parts', 'turns'] as const, 'Choose how its experiments share visitors.')
    .required('Choose how its experiments share visitors.'),
})
export type GroupInput = InferType<typeof groupSchema>

export interface GroupMember {
  experiment: number
  name: string
  state: ExperimentState
  /** Of 10,000 buckets. */
  share: number
  rank: number
  /** Buckets of the group that it has; none for a draft. */
  ranges: [number, number][]
}
export interface ExclusionGroupView {
  id: number
  name: string
  kind: 'parts' | 'turns'
  /** Buckets that nobody has; null where experiments take turns. */
  free: number | null
  members: GroupMember[]
}

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

export interface HoldoutView {
  id: number
  name: string
  /** Of 10,000 buckets. */
  share: number
  startsAt: string
  endsAt: string
  /** Whether what starts now is kept from its visitors. */
  isOpen: boolean
  experiments: { experiment: number; name: string; state: ExperimentState }[]
}
