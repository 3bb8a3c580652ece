import { Tinypool } from 'tinypool'
import { isRegexKnown, noteRegexProblem } from '../../core/targeting/regexProblem'
import { HttpProblem } from '../services/HttpProblem'
import { threadFile } from './deliveryFile'

/** Most regular expressions that one request may bring. */
const MOST = 100
/** How long all of one request may take, in ms, with the start of the thread on a busy machine. */
const LONGEST = 5000
const LONGEST_FILTER = 1000
/** As filters of reports say it: `regex:…`, `path.regex.anycase:…`. */
const IN_FILTER = /^[\w.%]*\bregex\b[\w.]*:(.*)$/s

let pool: Tinypool | undefined

/**
 * Analyzes the regular expressions in what somebody has sent, in a thread, before the schemas look at them: each may take
 * a second, in which the process would answer nobody.
 *
 * @param input - a body as it was parsed, or a query
 * @throws HttpProblem 422 for more than can be analyzed in a reasonable time
 */
export async function analyzeExpressions(input: unknown): Promise<void> {
  const sources = [...new Set(expressionsIn(input))].filter((source) => !isRegexKnown(source))
  if (sources.length > MOST) throw new HttpProblem(422, `At most ${MOST} regular expressions at once.`)
  const until = Date.now() + LONGEST
  for (const source of sources) {
    const left = until - Date.now()
    if (left <= 0) throw takesTooLong()
    noteRegexProblem(source, await analyzed(source, left))
  }
}

async function analyzed(source: string, most: number): Promise<string | null> {
  pool ??= new Tinypool({ filename: threadFile('expression'), runtime: 'worker_threads', minThreads: 1, maxThreads: 2 })
  try {
    return (await pool.run(source, { signal: AbortSignal.timeout(most) })) as string | null
  } catch (error) {
    // Nothing is known of it then, and so nothing remembered: others may have held the thread up.
    if (error instanceof Error && error.name === 'AbortError') throw takesTooLong()
    console.error(error)
    throw new HttpProblem(503, 'The regular expressions could not be checked. Try again in a moment.')
  }
}

function takesTooLong(): HttpProblem {
  return new HttpProblem(
    422,
    'The regular expressions take too long to check. Write simpler ones, or save fewer at once.',
  )
}

/** Every regular expression in a value, wherever it stands: of a rule on addresses, a condition, or a filter. */
function expressionsIn(value: unknown): string[] {
  if (typeof value === 'string') return value.length > LONGEST_FILTER ? [] : (IN_FILTER.exec(value)?.slice(1) ?? [])
  if (typeof value !== 'object' || value === null) return []
  const { match, is, value: compared, texts } = value as Record<string, unknown>
  const own = [...(match === 'regex' ? [compared] : []), ...(is === 'regex' && Array.isArray(texts) ? texts : [])]
  return [
    // Schemas look at them without blanks around.
    ...own.filter((each): each is string => typeof each === 'string').map((each) => each.trim()),
    ...Object.values(value).flatMap(expressionsIn),
  ]
}
