import type { Edit } from '../../core/edits/edit'

/** How long an element that the page has not drawn yet is waited for. */
const PATIENCE = 10_000
/** How often a page may undo an edit before it is left alone, so that two scripts never fight for ever. */
const MOST_RETURNS = 20

/**
 * Applies edits now and keeps them applied while the page is still being built.
 *
 * Elements that come later, or are drawn again by the page's own scripts, are changed before the next frame:
 * observers run ahead of painting.
 */
export function applyEdits(edits: readonly Edit[]): void {
  if (edits.length === 0) return
  const returns = new Map<Edit, number>()
  const applyAll = () => {
    for (const edit of edits) {
      if (!applyEdit(edit)) continue
      const times = (returns.get(edit) ?? 0) + 1
      returns.set(edit, times)
      if (times > MOST_RETURNS) observer.disconnect()
    }
  }
  const observer = new MutationObserver(applyAll)
  applyAll()
  observer.observe(document.documentElement, { childList: true, subtree: true, characterData: true })
  setTimeout(() => observer.disconnect(), PATIENCE)
}

/** Whether the edit changed something. */
export function applyEdit(edit: Edit): boolean {
  const element = find(edit.selector)
  if (!element || element.textContent === edit.value) return false
  element.textContent = edit.value
  return true
}

function find(selector: string): Element | null {
  try {
    return document.querySelector(selector)
  } catch {
    return null
  }
}
