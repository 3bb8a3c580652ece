import { LRUCache } from 'lru-cache'
import { fetchPage } from './fetchPage'

/** A page that is looked at again at once is the same, in ms. */
const KEPT_FOR = 15_000
/** Characters of all pages together. */
const MOST_KEPT = 30_000_000

/** Fetches pages as `fetchPage` does; one that is asked for again within seconds is not fetched again. */
export function keptPages(): typeof fetchPage {
  const pages = new LRUCache<string, Awaited<ReturnType<typeof fetchPage>>>({
    maxSize: MOST_KEPT,
    sizeCalculation: ({ html }) => html.length + 1,
    ttl: KEPT_FOR,
  })
  return async (address, reach, as) => {
    // Whoever may not reach a page is not shown what somebody else has fetched.
    const key = JSON.stringify([address, reach, as])
    const kept = pages.get(key)
    if (kept) return kept
    const page = await fetchPage(address, reach, as)
    pages.set(key, page)
    return page
  }
}
