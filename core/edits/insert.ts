import { describeElement, shortened, type OfElement } from './element'
import type { EditKind } from './kind'
import { deliveredMarkup, LONGEST_MARKUP, markupProblems, markupText } from './markup'

/** Where something stands relative to an element. */
export type Place = 'before' | 'after' | 'first' | 'last'

export const PLACES: readonly Place[] = ['before', 'after', 'first', 'last']

const PLACES_IN_WORDS: Record<Place, string> = {
  before: 'before',
  after: 'after',
  first: 'first inside of',
  last: 'last inside of',
}

/** A place in words. */
export function placeInWords(place: Place): string {
  return PLACES_IN_WORDS[place]
}

/** Adds something new to the page. */
export interface InsertEdit extends OfElement {
  kind: 'insert'
  place: Place
  /** HTML. */
  value: string
}

export const insertKind: EditKind<InsertEdit> = {
  problems({ value }) {
    const problems = markupProblems(value)
    if (value.length > LONGEST_MARKUP) problems.push(`The HTML is longer than ${LONGEST_MARKUP} characters.`)
    if (!value.trim()) problems.push('There is nothing to insert. Type the text or HTML to add.')
    return problems
  },
  deliver: (edit) => ({ ...edit, value: deliveredMarkup(edit.value) }),
  describe: (edit) =>
    `“${shortened(markupText(edit.value)) || shortened(edit.value)}” is added ${placeInWords(edit.place)} ${describeElement(edit)}`,
}
