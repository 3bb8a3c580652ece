import { selectAll } from 'css-select'
import { textContent } from 'domutils'
import { parseDocument } from 'htmlparser2'
import type { FoundElements } from '../../../core/preflight/triedElements'

/** What selectors find on a page as it is served. */
export function countElements(html: string, selectors: readonly string[]): FoundElements[] {
  const page = parseDocument(html)
  return selectors.map((selector) => {
    try {
      const [first, ...more] = selectAll(selector, page)
      return { selector, matches: first ? more.length + 1 : 0, text: first ? textContent(first).slice(0, 2000) : null }
    } catch {
      // A selector that only browsers understand.
      return { selector, matches: null, text: null }
    }
  })
}
