import { selectAll } from 'css-select'
import { textContent } from 'domutils'
import { parseDocument, Parser } from 'htmlparser2'
import type { FoundElements } from '../../../core/preflight/triedElements'

/** What selectors find on a page as it is served, and the content security policies in its markup. */
export interface CountedPage {
  found: FoundElements[]
  policies: string[]
}

export function countElements(html: string, selectors: readonly string[]): CountedPage {
  const page = parseDocument(html)
  const found = selectors.map((selector) => {
    try {
      const [first, ...more] = selectAll(selector, page)
      return { selector, matches: first ? more.length + 1 : 0, text: first ? textContent(first).slice(0, 2000) : null }
    } catch {
      // A selector that only browsers understand.
      return { selector, matches: null, text: null }
    }
  })
  return { found, policies: policiesIn(html) }
}

function policiesIn(html: string): string[] {
  const policies: string[] = []
  const parser = new Parser({
    onopentag(name, { 'http-equiv': meaning, content }) {
      if (name === 'meta' && meaning?.toLowerCase() === 'content-security-policy' && content) policies.push(content)
    },
  })
  parser.end(html)
  return policies
}
