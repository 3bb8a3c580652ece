import { object, string } from '../yup'

/** In which manner another wording is asked for. */
export const MANNERS = ['shorter', 'plainer', 'warmer', 'more concrete'] as const
export type Manner = (typeof MANNERS)[number]

/** Longest text that other wordings are asked for, in characters. */
export const LONGEST_WORDING = 600

export const wordingSchema = object({
  text: string()
    .trim()
    .max(LONGEST_WORDING, `Choose a text of at most ${LONGEST_WORDING} characters.`)
    .required('Choose a text to find other words for.'),
  manner: string().oneOf(MANNERS, 'Choose a manner.').required('Choose a manner.'),
  /** What kind of thing says it, such as `button`. */
  element: string().trim().max(40).default(''),
  /** What stands around it on the page. */
  around: string().trim().max(1000).default(''),
})
