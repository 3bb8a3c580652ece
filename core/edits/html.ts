import { describeElement, shortened, type OfElement } from './element'
import { mergeValues, type EditKind } from './kind'
import { deliveredMarkup, LONGEST_MARKUP, markupProblems, markupText } from './markup'

/** Replaces everything inside of one element. */
export interface HtmlEdit extends OfElement {
  kind: 'html'
  value: string
  original: string
}

export const htmlKind: EditKind<HtmlEdit> = {
  problems({ value, original }) {
    const problems = markupProblems(value)
    if (value.length > LONGEST_MARKUP) problems.push(`The HTML is longer than ${LONGEST_MARKUP} characters.`)
    if (value === original) problems.push('The new HTML is the same as the original.')
    return problems
  },
  deliver: (edit) => ({ ...edit, value: deliveredMarkup(edit.value) }),
  describe: (edit) =>
    `HTML inside of ${describeElement(edit)} becomes “${shortened(markupText(edit.value)) || shortened(edit.value)}”`,
  changes: ({ selector }) => `html ${selector}`,
  merge: mergeValues,
}
