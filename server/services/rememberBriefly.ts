import { setTimeout as wait } from 'node:timers/promises'
import { LRUCache } from 'lru-cache'

/** How long a known answer is held back for a fresh one. */
const PATIENCE = 1000

/**
 * Remembers what a lookup found, so that a burst of visitors asks the database once. When the lookup fails or hangs,
 * what is known goes on being given: pages under test must not depend on the database. Only the first caller after the
 * answer has gone stale waits, and for a second at most.
 *
 * @param find - the lookup
 * @param milliseconds - how long an answer counts as fresh
 * @param most - how many answers are kept
 * @returns the answer of a key; with `fresh`, asked for again
 */
export function rememberBriefly<Found extends object | null>(
  find: (key: string) => Promise<Found>,
  milliseconds: number,
  most = 1000,
): (key: string, fresh?: boolean) => Promise<Found> {
  interface Known {
    found: Found
    freshUntil: number
  }
  const known = new LRUCache<string, Known>({ max: most })
  // Keys that anybody makes up push out none that are somebody's.
  const nothing = new LRUCache<string, Known>({ max: most })
  const asked = new Map<string, Promise<Known>>()

  function ask(key: string): Promise<Known> {
    let pending = asked.get(key)
    if (!pending) {
      pending = find(key)
        .then((found) => {
          const answer = { found, freshUntil: Date.now() + milliseconds }
          ;(found === null ? nothing : known).set(key, answer)
          ;(found === null ? known : nothing).delete(key)
          return answer
        })
        .finally(() => asked.delete(key))
      asked.set(key, pending)
    }
    return pending
  }

  return async (key, fresh = false) => {
    const earlier = known.get(key) ?? nothing.get(key)
    if (!earlier) return (await ask(key)).found
    if (!fresh && earlier.freshUntil > Date.now()) return earlier.found
    const underWay = asked.get(key)
    // What is under way may have been read before that which the caller has seen.
    const refreshed = (fresh && underWay ? underWay.catch(() => null).then(() => ask(key)) : ask(key)).catch(
      () => earlier,
    )
    if (underWay && !fresh) return earlier.found
    return (await Promise.race([refreshed, wait(PATIENCE, earlier, { ref: false })])).found
  }
}
