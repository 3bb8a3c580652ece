import { query, type Applier } from './applier'
import { applyText } from './text'

/** Carries out texts, found by their selectors: all that most experiments need, in as few bytes as can be. */
export const textOnly: Applier = {
  find: (edit) => query((edit as { selector: string }).selector),
  apply: (edit, element) => applyText((edit as { value: string }).value, element),
}
