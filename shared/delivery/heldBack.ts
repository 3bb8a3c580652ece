import type { DeliveredEdit } from '../../core/edits/content'
import { pagePattern } from '../../core/targeting/pagePattern'
import type { AnySiteFileEntry } from './siteFile'

/** A pattern of addresses, and what is held back there until the snippet has decided: selectors, or `html` for all. */
export type HeldBack = [pattern: string, selectors: string]

const EVERYTHING = 'html'
/** Edits that leave everything around their element where it is. */
const IN_PLACE: ReadonlySet<DeliveredEdit['kind']> = new Set([
  'text',
  'richText',
  'attribute',
  'image',
  'style',
  'classes',
])
/** With more there is little that is not held back. */
const MOST_SELECTORS = 20

/**
 * What a browser holds back on the next page before anything of Vetch is there: the elements that what runs changes,
 * the same for all who come, whatever they are shown. What waits for something to happen is held back by nothing.
 */
export function heldBack(entries: readonly AnySiteFileEntry[]): HeldBack[] {
  const byPattern = new Map<string, DeliveredEdit[]>()
  for (const entry of entries) {
    if (entry.kind !== 'experiment' || entry.activation) continue
    const pattern = pagePattern(entry.pages)
    byPattern.set(pattern, [...(byPattern.get(pattern) ?? []), ...entry.edits.flat()])
  }
  return [...byPattern].filter(([, edits]) => edits.length > 0).map(([pattern, edits]) => [pattern, selectorsOf(edits)])
}

function selectorsOf(edits: readonly DeliveredEdit[]): string {
  const selectors = new Set(
    edits.map((edit) => ('selector' in edit && IN_PLACE.has(edit.kind) ? edit.selector : EVERYTHING)),
  )
  return selectors.has(EVERYTHING) || selectors.size > MOST_SELECTORS ? EVERYTHING : [...selectors].join()
}
