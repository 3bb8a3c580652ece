/** How a page rule compares its value with an address. */
export type PageMatch = 'exact' | 'begins' | 'contains'

/**
 * One rule of an address match.
 * `exact` and `begins` compare path, and query only where the value names one; the fragment never counts.
 * `contains` looks anywhere in path and query.
 */
export interface PageRule {
  match: PageMatch
  /** A path with a leading slash (`/book?step=2`), or for `contains` any text. */
  value: string
}

/**
 * Whether an address fulfils one rule. The origin is not compared: a site file only ever runs on its own site.
 *
 * @param rule - the rule
 * @param address - absolute address of the page
 * @returns false for an address that cannot be read
 */
export function matchesPageRule(rule: PageRule, address: string): boolean {
  const page = pathAndQuery(address)
  if (!page) return false
  const { path, query } = page
  if (rule.match === 'contains')
    return (path + query).includes(rule.value) || decoded(path + query).includes(rule.value)
  const [wantedPath = '', wantedQuery] = rule.value.split('?', 2)
  if (rule.match === 'begins') {
    const beginning = encodedPath(wantedPath)
    return wantedQuery === undefined
      ? path.startsWith(beginning)
      : (path + query).startsWith(`${beginning}?${wantedQuery}`)
  }
  return (
    trimSlash(path) === trimSlash(encodedPath(wantedPath)) && (wantedQuery === undefined || query === `?${wantedQuery}`)
  )
}

/** Whether an address fulfils at least one of the rules. No rules match no page. */
export function matchesPage(rules: readonly PageRule[], address: string): boolean {
  return rules.some((rule) => matchesPageRule(rule, address))
}

/**
 * Page rules as part of a sentence.
 *
 * @example pageRulesInWords([{ match: 'exact', value: '/' }, { match: 'begins', value: '/book' }])
 * // '/ or addresses that begin with /book'
 */
export function pageRulesInWords(rules: readonly PageRule[]): string {
  const words = rules.map(({ match, value }) => {
    if (match === 'exact') return value
    return match === 'begins' ? `addresses that begin with ${value}` : `addresses with “${value}” in them`
  })
  return words.length < 2 ? words.join() : `${words.slice(0, -1).join(', ')} or ${words.at(-1)}`
}

/** The parts of the last address: rules ask about the same page one after the other. */
let last: { address: string; page: { path: string; query: string } | null } | undefined

function pathAndQuery(address: string): { path: string; query: string } | null {
  if (last?.address !== address) last = { address, page: parse(address) }
  return last.page
}

function parse(address: string): { path: string; query: string } | null {
  try {
    const url = new URL(address)
    return { path: url.pathname, query: url.search }
  } catch {
    return null
  }
}

/** A path as browsers write it: people type `/über-uns`, addresses say `/%C3%BCber-uns`. */
function encodedPath(path: string): string {
  if (/^[\w/-]*$/.test(path)) return path
  return parse(`https://path.invalid${path}`)?.path ?? path
}

function decoded(text: string): string {
  try {
    return decodeURIComponent(text)
  } catch {
    return text
  }
}

/** `/passes/` and `/passes` are the same page to the people who write rules. */
function trimSlash(path: string): string {
  return path.length > 1 && path.endsWith('/') ? path.slice(0, -1) : path
}
