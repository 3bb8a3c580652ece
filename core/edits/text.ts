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

/** Longest text an edit may set, in characters. */
export const LONGEST_TEXT = 2000

/** What is wrong with a text edit, in words for the person who made it. */
export function textProblems(edit: TextEdit): string[] {
  const problems: string[] = []
  if (edit.value.length > LONGEST_TEXT) problems.push(`The text is longer than ${LONGEST_TEXT} characters.`)
  if (!edit.value.trim()) problems.push('The new text is empty. Type the text that visitors should read.')
  if (edit.value === edit.original) problems.push('The new text is the same as the original.')
  return problems
}

/** One line that says what a text edit does. */
export function describeText(edit: TextEdit): string {
  return `Text of ${edit.selector}: “${shorten(edit.original)}” becomes “${shorten(edit.value)}”`
}

export function invertText(edit: TextEdit): TextEdit {
  return { ...edit, value: edit.original, original: edit.value }
}

/** The later of two edits of the same text, from the first original; null when they cancel out. */
export function mergeTexts(earlier: TextEdit, later: TextEdit): TextEdit | null {
  return later.value === earlier.original ? null : { ...later, original: earlier.original }
}

function shorten(text: string): string {
  const line = text.replace(/\s+/g, ' ').trim()
  return line.length > 60 ? `${line.slice(0, 59)}…` : line
}
