import { describe, expect, test } from 'vitest'
import { isPlainRule, matchesPage, matchesPageRule, type PageMatch, type PageRule } from './pageRule'
import { pageRulesInWords } from './pageWords'
import * as plain from './plainRule'

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
  expect(plain.matchesPageRule({ match, value }, address)).toBe(expected)
})

test('one of several rules is enough, and no rule matches nothing', () => {
  const rules = [{ match: 'exact', value: '/a' } as const, { match: 'exact', value: '/b' } as const]
  expect(matchesPage(rules, 'https://a.test/b')).toBe(true)
  expect(matchesPage([], 'https://a.test/b')).toBe(false)
  expect(plain.matchesPage(rules, 'https://a.test/b')).toBe(true)
  expect(plain.matchesPage([], 'https://a.test/b')).toBe(false)
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

const SHOP = 'https://shop.kc.test/Crossings/Torrin/?from=mail&ref=#deck-plan'
test.each<[PageRule, string, boolean]>([
  [{ match: 'exact', value: '/crossings/torrin', ignoresCase: true }, SHOP, true],
  [{ match: 'exact', value: '/Crossings/Torrin' }, SHOP, true],
  [{ match: 'exact', value: '/Crossings/Torrin', isStrictSlash: true }, SHOP, false],
  [{ match: 'exact', value: '/Crossings/Torrin/', isStrictSlash: true }, SHOP, true],
  [{ match: 'ends', value: '/Torrin/' }, SHOP, true],
  [{ match: 'ends', value: 'from=mail' }, SHOP, false],
  [{ match: 'wildcards', value: '/Crossings/*' }, SHOP, true],
  [{ match: 'wildcards', value: '*/Torrin/' }, SHOP, true],
  [{ match: 'wildcards', value: '/Crossings' }, SHOP, false],
  [{ match: 'wildcards', value: '/*?from=*' }, SHOP, true],
  [{ match: 'regex', value: '^/Crossings/[A-Z][a-z]+/' }, SHOP, true],
  [{ match: 'regex', value: '^/crossings/', ignoresCase: true }, SHOP, true],
  [{ match: 'regex', value: 'from=mail' }, SHOP, true],
  [{ match: 'regex', value: '^shop', part: 'host' }, SHOP, true],
  [{ match: 'exact', value: 'shop.kc.test', part: 'host' }, SHOP, true],
  [{ match: 'ends', value: '.kc.test', part: 'host' }, SHOP, true],
  [{ match: 'ends', value: '.kc.test', part: 'host' }, 'https://kc.test.evil/', false],
  [{ match: 'contains', value: 'from=mail', part: 'path' }, SHOP, false],
  [{ match: 'begins', value: 'from=', part: 'query' }, SHOP, true],
  [{ match: 'exact', value: 'mail', part: 'parameter', parameter: 'from' }, SHOP, true],
  [{ match: 'exact', value: 'post', part: 'parameter', parameter: 'from' }, SHOP, false],
  [{ match: 'contains', value: '', part: 'parameter', parameter: 'gone' }, SHOP, false],
  [{ match: 'present', value: '', part: 'parameter', parameter: 'ref' }, SHOP, true],
  [{ match: 'present', value: '', part: 'parameter', parameter: 'gone' }, SHOP, false],
  [{ match: 'exact', value: 'deck-plan', part: 'fragment' }, SHOP, true],
  [{ match: 'present', value: '', part: 'fragment' }, 'https://kc.test/', false],
  [{ match: 'begins', value: 'https://shop.kc.test/', part: 'address' }, SHOP, true],
  [{ match: 'ends', value: '/über', ignoresCase: true }, 'https://kc.test/Info/%C3%9Cber', true],
  [{ match: 'ends', value: '.kc.test', part: 'host' }, 'no address', false],
])('%j against %s', (rule, address, expected) => {
  expect(matchesPageRule(rule, address)).toBe(expected)
})

describe('rules together', () => {
  const book: PageRule = { match: 'begins', value: '/book' }
  const notDone: PageRule = { match: 'ends', value: '/done', isExcluded: true }
  test('let in what one includes and none excludes, whatever their order', () => {
    for (const rules of [
      [book, notDone],
      [notDone, book],
    ]) {
      expect(matchesPage(rules, 'https://a.test/book')).toBe(true)
      expect(matchesPage(rules, 'https://a.test/book/done')).toBe(false)
      expect(matchesPage(rules, 'https://a.test/other')).toBe(false)
    }
  })
  test('that only exclude let in everything else', () => {
    expect(matchesPage([notDone], 'https://a.test/other')).toBe(true)
    expect(matchesPage([notDone], 'https://a.test/done')).toBe(false)
  })
  test('read as a sentence, with what is taken away behind it', () => {
    expect(pageRulesInWords([book, notDone])).toBe(
      'addresses that begin with /book, but not addresses that end with /done',
    )
    expect(pageRulesInWords([{ match: 'exact', part: 'parameter', parameter: 'from', value: 'mail' }])).toBe(
      'addresses whose parameter from is mail',
    )
  })
})

test('a rule is plain where every snippet knows it', () => {
  expect(isPlainRule({ match: 'exact', value: '/', part: 'page', ignoresCase: false, isExcluded: null })).toBe(true)
  for (const more of [{ isExcluded: true }, { ignoresCase: true }, { isStrictSlash: true }, { part: 'host' as const }])
    expect(isPlainRule({ match: 'exact', value: '/', ...more })).toBe(false)
  expect(isPlainRule({ match: 'ends', value: '/' })).toBe(false)
})
