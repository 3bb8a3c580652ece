/** Changes the text of one element. */
export interface TextEdit {
  kind: 'text'
  /** CSS selector that finds exactly one element on the page. */
  selector: string
  /** The text the element is to show. */
  value: string
  /** The text the element showed when the edit was made: lets the edit be inverted and drift be seen. */
  original: string
}

/** One change of a page. Further kinds join this union. */
export type Edit = TextEdit

/** Longest text an edit may set, in characters. */
export const LONGEST_TEXT = 2000
const LONGEST_SELECTOR = 500

/**
 * What is wrong with an edit, in words for the person who made it.
 *
 * @returns an empty list when the edit can be applied
 */
export function editProblems(edit: Edit): string[] {
  const problems: string[] = []
  if (!edit.selector.trim()) problems.push('The edit names no element. Point at one on the page.')
  if (edit.selector.length > LONGEST_SELECTOR)
    problems.push(`The element's selector is longer than ${LONGEST_SELECTOR} characters.`)
  if (edit.value.length > LONGEST_TEXT) problems.push(`The text is longer than ${LONGEST_TEXT} characters.`)
  if (!edit.value.trim()) problems.push('The new text is empty. Type the text that visitors should read.')
  if (edit.value === edit.original) problems.push('The new text is the same as the original.')
  return problems
}

/**
 * One line that says what an edit does.
 *
 * @example describeEdit({ kind: 'text', selector: 'h1', original: 'Hello', value: 'Welcome' })
 * // 'Text of h1: “Hello” becomes “Welcome”'
 */
export function describeEdit(edit: Edit): string {
  return `Text of ${edit.selector}: “${shorten(edit.original)}” becomes “${shorten(edit.value)}”`
}

/** The edit that undoes this one. Inverting twice gives the edit back. */
export function invertEdit(edit: Edit): Edit {
  return { ...edit, value: edit.original, original: edit.value }
}

/**
 * The edits in the order of being applied, with only the last of those that set the same thing.
 *
 * @returns a new list; the first mention of an element keeps its place
 */
export function orderEdits(edits: readonly Edit[]): Edit[] {
  const byTarget = new Map<string, Edit>()
  for (const edit of edits) {
    const target = `${edit.kind} ${edit.selector}`
    const earlier = byTarget.get(target)
    byTarget.set(target, earlier ? { ...edit, original: earlier.original } : edit)
  }
  return [...byTarget.values()].filter((edit) => edit.value !== edit.original)
}

function shorten(text: string): string {
  const line = text.replace(/\s+/g, ' ').trim()
  return line.length > 60 ? `${line.slice(0, 59)}…` : line
}
