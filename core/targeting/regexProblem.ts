import { isSafePattern } from 'redos-detector'

/** Longer ones nobody reads. */
export const LONGEST_EXPRESSION = 200
/** Steps that a match may be tried in, as the analysis counts them, before it is called slow. */
const MOST_BACKTRACKS = 200
/** Steps of an analysis that any rule gets, however busy the machine is: ordinary rules need some hundreds. */
const STEPS_WITHOUT_LIMIT = 1000
/** How long the analysis of harder ones may go on, in ms. */
const ANALYSIS_MS = 500

/**
 * Why a regular expression may not be a rule: it cannot be read, or some address would keep a visitor's browser busy
 * with it (catastrophic backtracking). Null for one that may.
 *
 * @example regexProblem('(a+)+$') // 'Some addresses would take …'
 */
export function regexProblem(source: string): string | null {
  const problem = known.get(source)
  if (problem !== undefined) return problem
  const found = findRegexProblem(source)
  noteRegexProblem(source, found)
  return found
}

/** The analysis may take a second, and the same rules are looked at again and again. */
const known = new Map<string, string | null>()
const MOST_KNOWN = 1000

/** Whether `regexProblem` answers at once. */
export function isRegexKnown(source: string): boolean {
  return known.has(source)
}

/** Remembers what `findRegexProblem` has found, perhaps elsewhere. */
export function noteRegexProblem(source: string, problem: string | null): void {
  if (known.size >= MOST_KNOWN) known.delete(known.keys().next().value!)
  known.set(source, problem)
}

/** `regexProblem` without remembering: may take a second. */
export function findRegexProblem(source: string): string | null {
  if (source.length > LONGEST_EXPRESSION) return `The expression is longer than ${LONGEST_EXPRESSION} characters.`
  try {
    new RegExp(source, 'u')
  } catch (error) {
    const reason = error instanceof Error ? (/: ([^:]*)$/.exec(error.message)?.[1] ?? error.message) : String(error)
    return `The regular expression cannot be read: ${reason}.`
  }
  try {
    const { safe, error } = analyze(source)
    if (safe) return null
    if (error === 'timedOut' || error === 'hitMaxSteps') return TOO_HARD
    return 'Some addresses would take very long to compare with it: a part that repeats holds another that repeats, or can be read in several ways. Say it without, or use a pattern with *.'
  } catch {
    return TOO_HARD
  }
}

/** By its steps first, so that what is said of ordinary expressions does not hang on the clock. */
function analyze(source: string) {
  const ordinary = { unicode: true, maxScore: MOST_BACKTRACKS, maxSteps: STEPS_WITHOUT_LIMIT }
  const first = isSafePattern(source, ordinary)
  if (first.error !== 'hitMaxSteps') return first
  return isSafePattern(source, { unicode: true, maxScore: MOST_BACKTRACKS, timeout: ANALYSIS_MS })
}

const TOO_HARD =
  'It cannot be told whether comparing addresses with it ends soon. Write a simpler one, or use a pattern with *.'
