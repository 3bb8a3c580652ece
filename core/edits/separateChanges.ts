import { isOfElement, type Edit } from './content'
import { describeElement } from './element'

/** One thing that edits change: an element, however much is changed about it, or the code. */
export interface SeparateChange {
  /** In words. */
  thing: string
  edits: Edit[]
}

/** Edits that are on, by the things that they change; a redirect changes nothing on the page. */
export function separateChanges(edits: readonly Edit[]): SeparateChange[] {
  const things = new Map<string, SeparateChange>()
  for (const edit of edits) {
    if (edit.isOff || edit.kind === 'redirect') continue
    const key = isOfElement(edit) ? edit.selector : edit.kind
    const known = things.get(key)
    if (known) known.edits.push(edit)
    else things.set(key, { thing: thingOf(edit), edits: [edit] })
  }
  return [...things.values()]
}

function thingOf(edit: Edit): string {
  if (isOfElement(edit)) return describeElement(edit)
  return edit.kind === 'css' ? 'the stylesheet' : 'the script'
}
