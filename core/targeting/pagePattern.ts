import { encodedPath } from './plainRule'
import { isPlainRule, type PageRule } from './pageRule'

/** Fits every address. */
const EVERY_PAGE = ''
const ORIGIN = '^[^/]*//[^/]*'
/** Patterns are read on every page: longer ones cost more than they spare. */
const LONGEST = 500

/**
 * A regular expression that fits the address of every page that rules let in, and perhaps of some more: what a page
 * asks before anything else is there, in a line of code.
 *
 * @param rules - of one experiment, say
 * @returns the source of the expression; an empty one, which fits every page, where the rules are not plain
 * @example new RegExp(pagePattern([{ match: 'exact', value: '/book' }])).test('https://a.test/book?day=1') // true
 */
export function pagePattern(rules: readonly PageRule[]): string {
  const including = rules.filter(({ isExcluded }) => !isExcluded)
  if (including.length === 0 || !including.every(isPlainRule)) return EVERY_PAGE
  const patterns = new Set(including.map(patternOf))
  const pattern = [...patterns].join('|')
  return patterns.has(EVERY_PAGE) || pattern.length > LONGEST ? EVERY_PAGE : pattern
}

function patternOf({ match, value }: PageRule): string {
  if (match === 'contains') return [...new Set([value, encoded(value)])].map(escaped).join('|')
  const [path = '', query] = value.split('?', 2)
  const slashed = encodedPath(path)
  if (match === 'begins' && value === '/') return EVERY_PAGE
  if (match === 'begins') return ORIGIN + escaped(slashed) + (query === undefined ? '' : escaped(`?${query}`))
  const bare = slashed.endsWith('/') ? slashed.slice(0, -1) : slashed
  return `${ORIGIN}${escaped(bare)}/?${query === undefined ? '(?:[?#]|$)' : `${escaped(`?${query}`)}(?:#|$)`}`
}

/** As browsers write it in an address. */
function encoded(text: string): string {
  try {
    return encodeURI(decodeURI(text))
  } catch {
    return text
  }
}

function escaped(text: string): string {
  return text.replace(/[$()*+.?[\\\]^{|}]/g, '\\$&')
}
