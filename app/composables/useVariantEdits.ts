import type { Edit, EditContent, EditMarks } from '~~/core/edits/content'
import { editName } from '~~/core/edits/edit'
import { describeWidths, type Widths } from '~~/core/edits/widths'
import { changeForEdit } from '~~/core/sheet/editChange'
import type { SheetLevel } from '~~/core/sheet/content'
import { drawThingId } from '~~/shared/thingId'

/** What can be done with the edits of one variant of the open sheet, or of one level of a multivariate test. */
export function useVariantEdits(variant: () => SheetLevel) {
  const { make } = useSheetChanges()
  const list = () => ({ part: 'edits' as const, variant: variant().id })
  const setOf = (edit: Edit, from: Record<string, unknown>, to: Record<string, unknown>, told: string) =>
    make({ do: 'set', of: { ...list(), id: edit.id }, from, to }, told)

  return {
    /** Makes the variant do what edits say, in place of what it did to the same. */
    commit(contents: readonly (EditContent & EditMarks)[]) {
      for (const content of contents) {
        const change = changeForEdit(list(), variant().edits, content, drawThingId())
        if (change) make(change)
      }
    },
    /** Sets what a stylesheet or script holds; an empty one goes. */
    write(edit: Edit | null, content: EditContent & { value: unknown }) {
      const isEmpty = String(content.value).trim() === ''
      if (edit && isEmpty) make({ do: 'remove', list: list(), item: edit })
      else if (edit && 'value' in edit)
        make({ do: 'set', of: { ...list(), id: edit.id }, from: { value: edit.value }, to: { value: content.value } })
      else if (!isEmpty)
        make({ do: 'add', list: list(), item: { ...content, id: drawThingId() } as Edit, before: null })
    },
    rename: (edit: Edit, title: string | null) =>
      (edit.title ?? null) !== title && setOf(edit, { title: edit.title ?? null }, { title }, 'Renamed the edit.'),
    toggle: (edit: Edit) =>
      setOf(
        edit,
        { isOff: edit.isOff ?? null },
        { isOff: !edit.isOff },
        `Switched ${edit.isOff ? 'on' : 'off'}: ${editName(edit)}`,
      ),
    limit: (edit: Edit, path: string) =>
      setOf(
        edit,
        { page: edit.page ?? null },
        { page: edit.page ? null : { match: 'exact', value: path } },
        edit.page ? 'Applies on all pages of the experiment.' : `Applies on ${path} alone.`,
      ),
    hold: (edit: Edit, widths: Widths | null) =>
      setOf(
        edit,
        { widths: edit.widths ?? null },
        { widths },
        widths ? `Applies ${describeWidths(widths)} alone.` : 'Applies in all window widths.',
      ),
    move(edit: Edit, by: -1 | 1) {
      const { edits } = variant()
      const at = edits.findIndex(({ id }) => id === edit.id)
      const before = edits[at + (by < 0 ? -1 : 2)]?.id ?? null
      make({ do: 'move', list: list(), id: edit.id, before })
    },
    copy: (edit: Edit, to: SheetLevel) =>
      make(
        { do: 'add', list: { part: 'edits', variant: to.id }, item: { ...edit, id: drawThingId() }, before: null },
        `Copied to ${to.name}.`,
      ),
    remove: (edit: Edit) => make({ do: 'remove', list: list(), item: edit }, 'Removed the edit.'),
  }
}
