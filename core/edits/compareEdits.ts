import type { Edit } from './content'
import { changedBy } from './edit'
import { areSameWidths } from './widths'

/** What one variant does to something, and what the other does; null for nothing. */
export interface EditDifference {
  one: Edit | null
  other: Edit | null
}

/**
 * Where two variants differ: edits of the same thing side by side, and those that only one of them has. Names and ids
 * make no difference, nor do edits that are off.
 *
 * @returns in the order of the first variant, then those of the second alone
 */
export function compareEdits(one: readonly Edit[], other: readonly Edit[]): EditDifference[] {
  const ones = one.filter(({ isOff }) => !isOff)
  const left = other.filter(({ isOff }) => !isOff)
  const differences: EditDifference[] = []
  for (const edit of ones) {
    const name = changedBy(edit)
    const isOfSame = (each: Edit) => changedBy(each) === name && areSameWidths(each.widths, edit.widths)
    const at = left.findIndex((each) => saysSame(edit, each) || (name !== null && isOfSame(each)))
    const [match] = at < 0 ? [] : left.splice(at, 1)
    if (!match || !saysSame(edit, match)) differences.push({ one: edit, other: match ?? null })
  }
  return [...differences, ...left.map((edit) => ({ one: null, other: edit }))]
}

function saysSame(one: Edit, other: Edit): boolean {
  return said(one) === said(other)
}

/** What an edit does, in one form: neither its name nor what was known of the page. */
function said(edit: Edit): string {
  const { id: _id, title: _title, isOff: _isOff, page, widths, ...content } = edit
  for (const field of ['original', 'clues', 'toClues']) Reflect.deleteProperty(content, field)
  const sorted = Object.entries(content).sort(([a], [b]) => (a < b ? -1 : 1))
  return JSON.stringify([sorted, page?.match, page?.value, widths?.from, widths?.below])
}
