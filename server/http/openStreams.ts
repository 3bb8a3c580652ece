import { HttpProblem } from '../services/HttpProblem'

/** A browser listens in one of its tabs only. */
const MOST_OF_ONE = 20
const MOST = 1000

const open = new Map<string, number>()
let all = 0

/**
 * Takes one of the streams that a caller may have open at once.
 *
 * @param person - whoever is signed in; null for programs, of which those of a site share theirs
 * @returns gives it back
 * @throws HttpProblem 429 where there are too many
 */
export function takeStream(siteId: number, person: number | null): () => void {
  const caller = person === null ? `programs of ${siteId}` : `person ${person}`
  const own = open.get(caller) ?? 0
  if (own >= MOST_OF_ONE || all >= MOST)
    throw new HttpProblem(429, 'Too many pages listen for news at once. Close some of them.')
  open.set(caller, own + 1)
  all++
  return () => {
    all--
    const left = open.get(caller)! - 1
    if (left > 0) open.set(caller, left)
    else open.delete(caller)
  }
}
