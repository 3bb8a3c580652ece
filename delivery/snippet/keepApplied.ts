import type { EditContent } from '../../core/edits/edit'
import { applyEdit, elementOf, type AppliedEdit } from '../edits/applyEdit'
import { guarded, safely } from './safely'

/** How often a page may undo an edit before it is left alone, so that two scripts never fight for ever. */
const MOST_RETURNS = 20
/** While a page is being built, what is missing is looked for at every change; later, at most this often. */
const BUILDING = 10_000
const SEARCH_EVERY = 200

interface Kept {
  edit: EditContent
  applied: AppliedEdit | null
  returns: number
  isLeftAlone: boolean
}

/**
 * Applies edits and keeps them applied for as long as the page view lasts.
 *
 * Elements that come later, or are drawn again by the page's own scripts, are changed before the next frame: observers
 * run ahead of painting.
 *
 * @returns a function that takes everything back
 * @throws whatever goes wrong with the first application; then nothing has been changed
 */
export function keepApplied(edits: readonly EditContent[]): () => void {
  const kept = edits.map((edit): Kept => ({ edit, applied: null, returns: 0, isLeftAlone: false }))
  const startedAt = performance.now()
  let searchedAt = -Infinity
  let search: ReturnType<typeof setTimeout> | undefined
  const observer = typeof MutationObserver === 'function' ? new MutationObserver(guarded(keepAll)) : null

  function apply(each: Kept): void {
    const element = elementOf(each.edit)
    if (!element) return
    if (each.applied && ++each.returns > MOST_RETURNS) {
      each.isLeftAlone = true
      return
    }
    each.applied = applyEdit(each.edit, element)
  }

  function keepAll(): void {
    const at = performance.now()
    const maySearch = at - startedAt < BUILDING || at - searchedAt > SEARCH_EVERY
    let isMissing = false
    for (const each of kept) {
      if (each.isLeftAlone || each.applied?.holds()) continue
      if (maySearch) safely(() => apply(each))
      else isMissing = true
    }
    if (maySearch) searchedAt = at
    else if (isMissing)
      search ??= setTimeout(
        guarded(() => ((search = undefined), keepAll())),
        SEARCH_EVERY,
      )
    // Our own changes are no news.
    observer?.takeRecords()
  }

  function takeBack(): void {
    observer?.disconnect()
    clearTimeout(search)
    for (const { applied } of [...kept].reverse()) safely(() => applied?.revert())
  }

  try {
    kept.forEach(apply)
  } catch (error) {
    takeBack()
    throw error
  }
  // The document itself stays when a late `document.write` replaces everything in it.
  if (edits.length > 0) observer?.observe(document, { childList: true, subtree: true, characterData: true })
  return takeBack
}
