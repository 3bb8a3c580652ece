import type { DeliveredEdit } from '../../core/edits/edit'
import { applyEdit, elementOf, type AppliedEdit } from '../edits/applyEdit'
import { guarded, safely } from './safely'

/** How often a page may undo an edit before it is left alone, so that two scripts never fight for ever. */
const MOST_RETURNS = 20
/** While a page is being built, what is missing is looked for at every change; later, at most this often. */
const BUILDING = 10_000
const SEARCH_EVERY = 200

interface Kept {
  edit: DeliveredEdit
  applied: AppliedEdit | null
  returns: number
  isLeftAlone: boolean
}

export interface Keeper {
  /**
   * Applies edits that belong together.
   *
   * @throws whatever goes wrong; then nothing of them has been changed
   */
  apply: (edits: readonly DeliveredEdit[]) => void
  /** From now on what has been applied is kept so. */
  keep: () => void
  takeBack: () => void
}

/**
 * Applies edits and keeps them applied for as long as the page view lasts.
 *
 * Elements that come later, or are drawn again by the page's own scripts, are changed before the next frame: observers
 * run ahead of painting.
 */
export function createKeeper(): Keeper {
  const kept: Kept[] = []
  const startedAt = performance.now()
  let searchedAt = -Infinity
  let search: ReturnType<typeof setTimeout> | undefined
  const observer = typeof MutationObserver === 'function' ? new MutationObserver(guarded(keepAll)) : null

  function apply(edits: readonly DeliveredEdit[]): void {
    const own = edits.map((edit): Kept => ({ edit, applied: null, returns: 0, isLeftAlone: false }))
    try {
      own.forEach(applyOne)
    } catch (error) {
      revert(own)
      throw error
    }
    kept.push(...own)
  }

  function applyOne(each: Kept): void {
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
      if (maySearch) safely(() => applyOne(each))
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

  return {
    apply,
    keep() {
      // The document itself stays when a late `document.write` replaces everything in it.
      if (kept.length > 0) observer?.observe(document, { childList: true, subtree: true, characterData: true })
    },
    takeBack() {
      observer?.disconnect()
      clearTimeout(search)
      revert(kept)
    },
  }
}

function revert(kept: readonly Kept[]): void {
  for (const { applied } of [...kept].reverse()) safely(() => applied?.revert())
}
