import { expect, test } from 'vitest'
import { matchesPage, matchesPageRule, pageRulesInWords, type PageMatch } from './pageRule'

test.each<[PageMatch, string, string, boolean]>([
  ['exact', '/passes', 'https://a.test/passes', true],
  ['exact', '/passes', 'https://a.test/passes/', true],
  ['exact', '/passes', 'https://a.test/passes?from=mail#top', true],
  ['exact', '/passes', 'https://a.test/passes/island-hopper', false],
  ['exact', '/passes?from=mail', 'https://a.test/passes?from=mail', true],
  ['exact', '/passes?from=mail', 'https://a.test/passes?from=post', false],
  ['exact', '/', 'https://a.test', true],
  ['begins', '/crossings/', 'https://a.test/crossings/torrin', true],
  ['begins', '/crossings/', 'https://a.test/other/crossings/', false],
  ['begins', '/book?step', 'https://a.test/book?step=2', true],
  ['contains', 'ref=', 'https://a.test/book/done?ref=KC-1', true],
  ['contains', 'a.test', 'https://a.test/book', false],
  ['exact', '/book', 'not an address', false],
  ['exact', '/über-uns', 'https://a.test/%C3%BCber-uns', true],
  ['exact', '/%C3%BCber-uns', 'https://a.test/über-uns', true],
  ['begins', '/über', 'https://a.test/%C3%BCber-uns', true],
  ['contains', 'über', 'https://a.test/%C3%BCber-uns', true],
  ['exact', '//', 'https://a.test//', true],
  ['exact', '//', 'https://a.test/', true],
])('%s %s against %s', (match, value, address, expected) => {
  expect(matchesPageRule({ match, value }, address)).toBe(expected)
})

test('one of several rules is enough, and no rule matches nothing', () => {
  const rules = [{ match: 'exact', value: '/a' } as const, { match: 'exact', value: '/b' } as const]
  expect(matchesPage(rules, 'https://a.test/b')).toBe(true)
  expect(matchesPage([], 'https://a.test/b')).toBe(false)
})

test('rules read as part of a sentence', () => {
  const rules = [
    { match: 'exact', value: '/' },
    { match: 'begins', value: '/book' },
    { match: 'contains', value: 'spring' },
  ] as const
  expect(pageRulesInWords(rules)).toBe('/, addresses that begin with /book or addresses with “spring” in them')
  expect(pageRulesInWords(rules.slice(1, 2))).toBe('addresses that begin with /book')
  expect(pageRulesInWords([])).toBe('')
})
