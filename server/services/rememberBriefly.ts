/**
 * Remembers what a lookup found for a short time, so that a burst of visitors asks the database once.
 * When the lookup fails, the last known answer is given for as long as there is one: pages under test
 * must not depend on the database.
 *
 * @param find - the lookup
 * @param milliseconds - how long an answer counts as fresh
 * @param most - how many answers are kept
 */
export function rememberBriefly<Found>(
  find: (key: string) => Promise<Found>,
  milliseconds: number,
  most = 1000,
): (key: string) => Promise<Found> {
  const known = new Map<string, { found: Found; freshUntil: number }>()
  const asked = new Map<string, Promise<Found>>()

  async function ask(key: string): Promise<Found> {
    const earlier = known.get(key)
    try {
      const found = await find(key)
      known.delete(key)
      known.set(key, { found, freshUntil: Date.now() + milliseconds })
      if (known.size > most) known.delete(known.keys().next().value!)
      return found
    } catch (error) {
      if (earlier) return earlier.found
      throw error
    } finally {
      asked.delete(key)
    }
  }

  return (key) => {
    const earlier = known.get(key)
    if (earlier && earlier.freshUntil > Date.now()) return Promise.resolve(earlier.found)
    const pending = asked.get(key) ?? ask(key)
    asked.set(key, pending)
    return pending
  }
}
