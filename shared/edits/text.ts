import { string } from '../yup'
import { LONGEST_TEXT } from '../../core/edits/text'

/** What a text edit has beside its element. */
export const textEditFields = {
  value: string().strict().max(LONGEST_TEXT, 'The text is longer than 2,000 characters.').defined(),
  original: string().strict().max(20_000, 'The original text is longer than 20,000 characters.').defined(),
}
