import { readAddress } from './readAddress'
import { decoded } from './readUrl'
import { matchesWildcards } from './wildcards'
import { matchesPageRule as matchesPlainRule } from './plainRule'

/** How a page rule compares its value with an address. */
export type PageMatch = 'exact' | 'begins' | 'contains' | 'ends' | 'wildcards' | 'regex' | 'present'

/** What of an address a rule looks at; `page` is the path, and the query where the value names one. */
export type AddressPart = 'page' | 'address' | 'host' | 'path' | 'query' | 'parameter' | 'fragment'

/**
 * One rule on addresses. Without more said it looks at path and query: `exact` and `begins` compare the query only
 * where the value names one, `contains` looks anywhere in both. A slash at the end makes no difference to `exact`.
 */
export interface PageRule {
  match: PageMatch
  /** A path with a leading slash (`/book?step=2`), or what the part of the address is compared with. */
  value: string
  /** `page` where nothing is said. */
  part?: AddressPart | null
  /** Of `parameter`, which one. */
  parameter?: string | null
  /** Takes addresses away from what other rules let in. */
  isExcluded?: boolean | null
  /** Large and small letters are the same. */
  ignoresCase?: boolean | null
  /** A slash at the end makes a difference to `exact`. */
  isStrictSlash?: boolean | null
}

/** The path that a rule names by itself, which can be opened; null for a rule that tells of many, or of no path. */
export function namedPath(rule: PageRule): string | null {
  return rule.match === 'exact' && isPlainRule({ ...rule, ignoresCase: false, isStrictSlash: false })
    ? rule.value
    : null
}

/** A path at which one can begin to look for pages of a rule; null where it tells none. */
export function beginningPath(rule: PageRule): string | null {
  return rule.match === 'begins' && isPlainRule({ ...rule, ignoresCase: false }) ? rule.value : namedPath(rule)
}

/** Whether a rule is one that every snippet knows. */
export function isPlainRule({ match, part, isExcluded, ignoresCase, isStrictSlash }: PageRule): boolean {
  return (
    (match === 'exact' || match === 'begins' || match === 'contains') &&
    (part ?? 'page') === 'page' &&
    !isExcluded &&
    !ignoresCase &&
    !isStrictSlash
  )
}

/**
 * Whether an address fulfils one rule, not looking at whether the rule lets in or takes away.
 *
 * @param rule - a rule whose regular expression can be read
 * @param address - absolute address of the page
 * @returns false for an address that cannot be read, and for a parameter that it does not have
 * @example matchesPageRule({ match: 'wildcards', value: '/crossings/*' }, 'https://a.test/crossings/torrin') // true
 */
export function matchesPageRule(rule: PageRule, address: string): boolean {
  if (isPlainRule({ ...rule, isExcluded: false })) return matchesPlainRule(rule, address)
  const text = partOf(rule, address)
  if (text === null) return false
  const { match, value, ignoresCase } = rule
  if (match === 'regex') return expression(value, !!ignoresCase).test(text)
  return [text, decoded(text)].some((each) =>
    ignoresCase ? compares(rule, each.toLowerCase(), value.toLowerCase()) : compares(rule, each, value),
  )
}

/**
 * Whether rules together let an address in: one that includes it fits, or none includes any, and none that excludes
 * fits. No rules match no page.
 */
export function matchesPage(rules: readonly PageRule[], address: string): boolean {
  let isIncluded = false
  let mayInclude = false
  for (const rule of rules) {
    if (!rule.isExcluded) mayInclude = true
    if (isIncluded && !rule.isExcluded) continue
    if (!matchesPageRule(rule, address)) continue
    if (rule.isExcluded) return false
    isIncluded = true
  }
  return isIncluded || (rules.length > 0 && !mayInclude)
}

/** Whether two rules say the same. */
export function isSameRule(one: PageRule, other: PageRule): boolean {
  const key = ({ match, value, part, parameter, isExcluded, ignoresCase }: PageRule) =>
    JSON.stringify([match, value, part ?? 'page', parameter ?? '', !!isExcluded, !!ignoresCase])
  return key(one) === key(other)
}

/** The text that a rule compares; null where the address has none. */
function partOf({ part, parameter, value, match }: PageRule, address: string): string | null {
  const url = readAddress(address)
  if (!url) return null
  switch (part ?? 'page') {
    case 'address':
      return url.href
    case 'host':
      return url.host
    case 'path':
      return url.pathname
    case 'query':
      return url.search.slice(1)
    case 'parameter':
      return url.searchParams.get(parameter ?? '')
    case 'fragment':
      return url.hash.slice(1)
    case 'page':
      return match === 'contains' || match === 'regex' || value.includes('?') ? url.pathname + url.search : url.pathname
  }
}

function compares({ match, part, isStrictSlash }: PageRule, text: string, value: string): boolean {
  switch (match) {
    case 'begins':
      return text.startsWith(value)
    case 'ends':
      return text.endsWith(value)
    case 'contains':
      return text.includes(value)
    case 'wildcards':
      return matchesWildcards(value, text)
    case 'present':
      return part === 'parameter' || text !== ''
    default: {
      return LIKE_PATHS.includes(part ?? 'page') && !isStrictSlash
        ? trimSlash(text) === trimSlash(value)
        : text === value
    }
  }
}

/** Parts in which a slash at the end makes no difference. */
const LIKE_PATHS: readonly AddressPart[] = ['page', 'path', 'address']

function trimSlash(path: string): string {
  return path.length > 1 && path.endsWith('/') ? path.slice(0, -1) : path
}

/** Compiled once: rules are asked of every page view. */
const expressions = new Map<string, RegExp>()
function expression(source: string, ignoresCase: boolean): RegExp {
  const key = `${ignoresCase ? 'i' : ''} ${source}`
  let found = expressions.get(key)
  if (!found) expressions.set(key, (found = new RegExp(source, ignoresCase ? 'iu' : 'u')))
  return found
}
