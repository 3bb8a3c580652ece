import { number, object, string } from '../yup'
import type { CommentView } from '../hypotheses/hypothesis'

export const approvalRequestSchema = object({
  person: number()
    .typeError('Choose whom to ask.')
    .integer('Choose whom to ask.')
    .min(1, 'Choose whom to ask.')
    .max(2_147_483_647, 'Choose whom to ask.')
    .required('Choose whom to ask.'),
})

export const approvalAnswerSchema = object({
  answer: string()
    .oneOf(['approved', 'changes'] as const, 'Approve it, or ask for changes.')
    .required('Approve it, or ask for changes.'),
  words: string()
    .trim()
    .max(5000, 'The words are longer than 5,000 characters.')
    .default('')
    .when('answer', { is: 'changes', then: (schema) => schema.required('Say what should change.') }),
})

/** Who was asked whether an experiment may start, and what they said. */
export interface ApprovalView {
  id: number
  personId: number
  person: string
  /** It is asked of whoever reads this. */
  isOwn: boolean
  askedBy: string | null
  askedAt: string
  answer: 'approved' | 'changes' | null
  words: string
  answeredAt: string | null
  /** The sheet has changed since it was answered. */
  isOutdated: boolean
}

export interface ReviewView {
  comments: CommentView[]
  approvals: ApprovalView[]
  /** Who can be asked and mentioned. */
  people: { id: number; name: string }[]
}
