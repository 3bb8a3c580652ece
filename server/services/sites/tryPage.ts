import type { TryPage } from '../experiments/triedPages'
import { fetchPage } from './fetchPage'
import { inspectInThread } from './inspectInThread'

/**
 * Tries pages as they are served: fetched under the guard, read in a thread of its own.
 *
 * @param file - the thread, as it was built
 * @param trustedOrigins - origins that may lie on private addresses
 */
export function pageTrier(file: string, trustedOrigins: readonly string[]): TryPage {
  return async (address, selectors) => {
    const { html, policies } = await fetchPage(address, trustedOrigins)
    const counted = await inspectInThread(file, { look: 'elements', html, selectors })
    return { found: counted.found, policies: [...policies, ...counted.policies] }
  }
}
