import type { PageRule } from './pageRule'
import { decoded, readUrl } from './readUrl'

/**
 * Rules that every site may have, in as little code as can be: the snippet of a site whose rules are all plain brings
 * nothing else. What they mean stands in `pageRule.ts`, which answers for all rules.
 */
export function matchesPageRule(rule: PageRule, address: string): boolean {
  const page = urlOf(address)
  if (!page) return false
  const { pathname: path, search: query } = page
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

/** The parts of the last address: rules ask about the same page one after the other. */
let last: { address: string; page: URL | null } | undefined

function urlOf(address: string): URL | null {
  if (last?.address !== address) last = { address, page: readUrl(address) }
  return last.page
}

/** A path as browsers write it: people type `/über-uns`, addresses say `/%C3%BCber-uns`. */
export function encodedPath(path: string): string {
  // A regular expression would cost a page more, at its first use, than all rules together.
  if (encodeURI(path) === path && !path.includes('.') && !path.includes('#')) return path
  return readUrl(`https://path.invalid${path}`)?.pathname ?? path
}

/** `/passes/` and `/passes` are the same page to the people who write rules. */
function trimSlash(path: string): string {
  return path.length > 1 && path.endsWith('/') ? path.slice(0, -1) : path
}
