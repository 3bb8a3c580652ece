import type { AddressPart, PageMatch, PageRule } from './pageRule'

export const MATCH_WORDS: Record<PageMatch, string> = {
  exact: 'is',
  begins: 'begins with',
  contains: 'contains',
  ends: 'ends with',
  wildcards: 'fits',
  regex: 'fits the regular expression',
  present: 'is there',
}
export const PART_WORDS: Record<AddressPart, string> = {
  page: 'path and query',
  address: 'whole address',
  host: 'host',
  path: 'path',
  query: 'query',
  parameter: 'parameter',
  fragment: 'fragment',
}

/**
 * Page rules as part of a sentence.
 *
 * @example pageRulesInWords([{ match: 'exact', value: '/' }, { match: 'begins', value: '/book' }])
 * // '/ or addresses that begin with /book'
 */
export function pageRulesInWords(rules: readonly PageRule[]): string {
  const included = rules.filter(({ isExcluded }) => !isExcluded).map(ruleInWords)
  const excluded = rules.filter(({ isExcluded }) => isExcluded).map(ruleInWords)
  const all = included.length > 0 ? joined(included) : excluded.length > 0 ? 'all pages' : ''
  return excluded.length > 0 ? `${all}, but not ${joined(excluded)}` : all
}

function ruleInWords(rule: PageRule): string {
  const { match, value, ignoresCase } = rule
  const part = rule.part ?? 'page'
  const end = ignoresCase ? ', in large or small letters' : ''
  if (part === 'page') {
    if (match === 'exact') return value + end
    const others: Partial<Record<PageMatch, string>> = {
      begins: `that begin with ${value}`,
      contains: `with “${value}” in them`,
      ends: `that end with ${value}`,
      wildcards: `like ${value}`,
    }
    return `addresses ${others[match] ?? `that fit the regular expression ${value}`}${end}`
  }
  const what = part === 'parameter' ? `parameter ${rule.parameter}` : PART_WORDS[part]
  const compared = match === 'present' ? '' : ` ${value}`
  return `addresses whose ${what} ${MATCH_WORDS[match]}${compared}${end}`
}

function joined(words: readonly string[]): string {
  return words.length < 2 ? words.join() : `${words.slice(0, -1).join(', ')} or ${words.at(-1)}`
}
