import type { DeliveredEdit } from '../../core/edits/content'
import type { Applier, AppliedEdit } from '../edits/applier'
import { guarded, safely } from './safely'

/** How often in a second an edit that the page undoes is put back: two scripts that fight never hold the page up. */
const MOST_RETURNS = 50
/** While a page is being built, what is missing is looked for at every change; later, at most this often. */
const BUILDING = 10_000
const SEARCH_EVERY = 200

interface Kept {
  edit: DeliveredEdit
  applied: AppliedEdit | null
  returns: number
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
export function createKeeper({ find, apply: applyEdit, watch }: Applier): Keeper {
  const kept: Kept[] = []
  const startedAt = performance.now()
  let searchedAt = -Infinity
  let countedAt = 0
  let search: ReturnType<typeof setTimeout> | undefined
  const again = guarded(keepAll)
  const observer = new MutationObserver(again)

  function apply(edits: readonly DeliveredEdit[]): void {
    const own: Kept[] = []
    try {
      const found: (Element | null)[] = []
      // Selectors speak of the page as it is: all are looked up before anything is changed.
      for (const edit of edits) found.push(find(edit))
      for (const edit of edits) {
        const element = found.shift()
        own.push({ edit, applied: element ? applyEdit(edit, element) : null, returns: 0 })
      }
      // What one edit has brought to the page another may change.
      for (const each of own) if (!each.applied) applyOne(each, find(each.edit))
    } catch (error) {
      revert(own)
      throw error
    }
    kept.push(...own)
  }

  function applyOne(each: Kept, element: Element | null): void {
    if (element) each.applied = applyEdit(each.edit, element)
  }

  function applyAgain(each: Kept): void {
    each.applied?.discard?.()
    const element = find(each.edit)
    if (element && each.returns++ < MOST_RETURNS) applyOne(each, element)
  }

  function keepAll(): void {
    const at = performance.now()
    const maySearch = at - startedAt < BUILDING || at - searchedAt > SEARCH_EVERY
    let isMissing = false
    if (at - countedAt > 1000) {
      countedAt = at
      for (const each of kept) each.returns = 0
    }
    for (const each of kept) {
      if (each.applied?.holds()) continue
      if (maySearch) safely(() => applyAgain(each))
      else isMissing = true
    }
    clearTimeout(search)
    if (maySearch) searchedAt = at
    else if (isMissing) search = setTimeout(again, SEARCH_EVERY)
    // Our own changes are no news.
    observer.takeRecords()
  }

  return {
    apply,
    keep() {
      // The document itself stays when a late `document.write` replaces everything in it.
      if (kept.length === 0) return
      const attributes = watch?.(kept, again)
      observer.observe(document, { childList: true, subtree: true, characterData: true, ...attributes })
    },
    takeBack() {
      observer.disconnect()
      clearTimeout(search)
      revert(kept.splice(0))
    },
  }
}

function revert(kept: readonly Kept[]): void {
  for (const { applied } of [...kept].reverse()) safely(() => applied?.revert())
}
