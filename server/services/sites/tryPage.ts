import type { TryPage } from '../experiments/triedPages'
import { fetchPage } from './fetchPage'
import { inspectInThread } from './inspectInThread'
import type { Reach } from './reach'

/**
 * Tries pages as they are served: fetched under the guard, read in a thread of its own.
 *
 * @param file - the thread, as it was built
 * @param reach - what may lie on private addresses
 * @param fetch - how pages are fetched
 */
export function pageTrier(file: string, reach: Reach, fetch = fetchPage): TryPage {
  return async (address, selectors) => {
    const { html, policies } = await fetch(address, reach)
    const counted = await inspectInThread(file, { look: 'elements', html, selectors })
    return { found: counted.found, policies: [...policies, ...counted.policies] }
  }
}
