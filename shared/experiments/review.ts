import { number, object, string } from '../yup'

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
