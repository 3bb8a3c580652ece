import { describeElement, shortened, type OfElement } from './element'
import { mergeValues, type EditKind } from './kind'
import { deliveredMarkup, markupText, partProblems } from './markup'
import { LONGEST_TEXT, withoutText } from './text'

/**
 * Changes the text of an element that holds links, bold words and other parts of a line. The parts that are kept stay
 * what they are, with all that the page has attached to them.
 */
export interface RichTextEdit extends OfElement {
  kind: 'richText'
  /**
   * Markup of a line: text, `b`, `i`, `u`, `s`, `small`, `sub`, `sup`, `mark`, `code`, `br`, `a` with an address, and
   * `span` with `data-part="N"` in the place of the element's Nth element, counted from 0 in the order of the page.
   *
   * @example '<b>Book</b> before <span data-part="0">Sunday</span>'
   */
  value: string
  /** The same of the element as it was. */
  original: string
}

export const richTextKind: EditKind<RichTextEdit> = {
  problems({ value, original }) {
    const problems = partProblems(value)
    if (markupText(value).length > LONGEST_TEXT) problems.push(`The text is longer than ${LONGEST_TEXT} characters.`)
    if (!markupText(value).trim() && !value.includes('data-part'))
      problems.push('The new text is empty. Type the text that visitors should read.')
    if (value === original) problems.push('The new text is the same as the original.')
    return problems
  },
  deliver: (edit) => ({ ...edit, value: deliveredMarkup(edit.value) }),
  describe(edit) {
    const [before, after] = [markupText(edit.original), markupText(edit.value)].map((text) => shortened(text))
    const element = describeElement({ ...edit, clues: withoutText(edit) })
    return before === after
      ? `Emphasis and links in ${element} “${after}”`
      : `Text of ${element}: “${before}” becomes “${after}”`
  },
  changes: ({ selector }) => `text ${selector}`,
  merge: mergeValues,
}
