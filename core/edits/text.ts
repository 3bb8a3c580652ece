import { describeElement, shortened, type OfElement } from './element'
import { mergeValues, type EditKind } from './kind'

/** Changes the text of one element. */
export interface TextEdit extends OfElement {
  kind: 'text'
  /** The text the element is to show. */
  value: string
  /** The text the element showed when the edit was made. */
  original: string
}

/** Longest text an edit may set, in characters. */
export const LONGEST_TEXT = 2000

export const textKind: EditKind<TextEdit> = {
  problems({ value, original }) {
    const problems: string[] = []
    if (value.length > LONGEST_TEXT) problems.push(`The text is longer than ${LONGEST_TEXT} characters.`)
    if (!value.trim()) problems.push('The new text is empty. Type the text that visitors should read.')
    if (value === original) problems.push('The new text is the same as the original.')
    return problems
  },
  describe: (edit) =>
    `Text of ${describeElement({ ...edit, clues: withoutText(edit) })}: “${shortened(edit.original)}” becomes “${shortened(edit.value)}”`,
  changes: ({ selector }) => `text ${selector}`,
  merge: mergeValues,
}

/** The sentence says the old text itself. */
export function withoutText({ clues }: OfElement): OfElement['clues'] {
  return clues && { ...clues, text: '' }
}
