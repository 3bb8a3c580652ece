import type { Edit, EditContent, EditMarks } from '../edits/content'
import { changedBy, isIdle } from '../edits/edit'
import { areSameWidths } from '../edits/widths'
import type { Fields, SheetChange, SheetList } from './change'
import { isSame } from './isSame'

/** The edit that changes the same as another one, among a variant's of the same widths. */
export function editOfSame(edits: readonly Edit[], content: EditContent & EditMarks): Edit | null {
  const name = changedBy(content)
  if (name === null) return null
  return edits.find((edit) => !edit.isOff && edit.kind === content.kind && changedBy(edit) === name) ?? null
}

/**
 * The change of a sheet that makes a variant do what an edit says: a new edit, or other fields of the one that changes
 * the same, from the original that it has. What would leave the page as it is takes that edit away.
 *
 * @param content - all that the edit is to say
 * @param id - of a new edit
 * @returns null where nothing is to be changed
 */
export function changeForEdit(
  list: Extract<SheetList, { part: 'edits' }>,
  edits: readonly Edit[],
  content: EditContent & EditMarks,
  id: string,
): SheetChange | null {
  const before = editOfSame(
    edits.filter(({ widths }) => areSameWidths(widths, content.widths)),
    content,
  )
  if (!before) return isIdle(content) ? null : { do: 'add', list, item: { ...content, id } as Edit, before: null }
  const after = { ...content, ...originalOf(before, content) } as Fields & EditContent
  if (isIdle(after)) return { do: 'remove', list, item: before }
  const was = before as unknown as Fields
  const names = Object.keys(after).filter((name) => name !== 'clues' && !isSame(after[name], was[name]))
  if (names.length === 0) return null
  const pick = (from: Fields) => Object.fromEntries(names.map((name) => [name, from[name]]))
  return { do: 'set', of: { ...list, id: before.id }, from: pick(was), to: pick(after) }
}

/** What was there before the first of several edits of the same. */
function originalOf(before: Edit, content: EditContent): { original?: unknown } {
  if (!('original' in before) || !('original' in content)) return {}
  return before.kind === 'style' && content.kind === 'style'
    ? {
        original: Object.fromEntries(
          Object.keys(content.value).map((name) => [name, before.original[name] ?? content.original[name] ?? '']),
        ),
      }
    : { original: before.original }
}
