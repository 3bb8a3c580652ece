import { describeElement, shortened, type OfElement } from './element'
import { mergeValues, type EditKind } from './kind'
import { attributeProblem } from './markup'

/** Sets one attribute of an element, such as where a link leads; null takes it away. */
export interface AttributeEdit extends OfElement {
  kind: 'attribute'
  /** In lower case. */
  name: string
  value: string | null
  original: string | null
}

/** Longest value of an attribute, in characters. */
export const LONGEST_ATTRIBUTE = 2000

/** Attributes that other kinds of edits change. */
const OF_OTHER_KINDS: Record<string, string> = { style: 'the controls under Look', class: 'Classes' }

export const attributeKind: EditKind<AttributeEdit> = {
  problems({ name, value, original }) {
    const problems: string[] = []
    if (!/^[a-z][\w:.-]{0,99}$/.test(name)) problems.push('Name the attribute in lower case, such as href or title.')
    const other = OF_OTHER_KINDS[name]
    if (other) problems.push(`The attribute ${name} is changed by ${other}.`)
    const problem = attributeProblem(name, value ?? '')
    if (problem) problems.push(problem)
    if ((value?.length ?? 0) > LONGEST_ATTRIBUTE)
      problems.push(`The value is longer than ${LONGEST_ATTRIBUTE} characters.`)
    if (value === original) problems.push('The new value is the same as the original.')
    return problems
  },
  describe: (edit) =>
    edit.name === 'href' && edit.value !== null
      ? `The ${describeElement(edit)} leads to ${shortened(edit.value)}`
      : edit.value === null
        ? `The attribute ${edit.name} of ${describeElement(edit)} is removed`
        : `The attribute ${edit.name} of ${describeElement(edit)} becomes “${shortened(edit.value)}”`,
  changes: ({ selector, name }) => `attribute ${name} ${selector}`,
  merge: mergeValues,
}
