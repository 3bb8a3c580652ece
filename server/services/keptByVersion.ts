import { LRUCache } from 'lru-cache'

const MOST_KEPT = 1000

/**
 * Makes something once a version, and keeps it until there is another: asking for a version is cheap, and making is
 * not.
 *
 * @param versionOf - the version as it is now; null where there is nothing
 * @param make - makes what belongs to a key
 */
export function keptByVersion<Made extends object>(
  versionOf: (key: string) => Promise<string | null>,
  make: (key: string) => Promise<Made | null>,
): (key: string) => Promise<Made | null> {
  const kept = new LRUCache<string, { version: string; made: Made }>({ max: MOST_KEPT })
  return async (key) => {
    // Asked for before: what is made is of this version or of a later one, and never of an earlier.
    const version = await versionOf(key)
    const earlier = kept.get(key)
    if (version === null) return null
    if (earlier?.version === version) return earlier.made
    const made = await make(key)
    if (made) kept.set(key, { version, made })
    return made
  }
}
