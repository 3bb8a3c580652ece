import { VISITOR_ID } from '../intake/browserIds'
import { array, boolean, number, object, string } from '../yup'

/** Answers that get a tag in one go. */
export const MOST_TAGGED = 2000

/** A tag on written answers of a question, or off them. */
export const answerTagSchema = object({
  question: string()
    .matches(/^[a-z0-9]{1,20}$/, 'There is no such question.')
    .required('Say which question.'),
  answers: array(
    object({
      visitor: string().matches(VISITOR_ID, 'There is no such visitor.').required('Say whose answer.'),
      session: string().max(60, 'There is no such session.').required('Say of which session.'),
      at: number().min(0).max(4_102_444_800_000, 'There is no such moment.').required('Say when it was written.'),
    })
      .noUnknown()
      .required(),
  )
    .min(1, 'Choose an answer.')
    .max(MOST_TAGGED, 'Tag at most 2,000 answers at once.')
    .required('Choose an answer.'),
  tag: string().trim().lowercase().max(40, 'The tag is longer than 40 characters.').required('Type a tag.'),
  isOn: boolean().default(true),
}).noUnknown()
