import fc from 'fast-check'
import { expect, test } from 'vitest'
import { idleRules, judgeAddresses } from './addressReport'
import { matchesPage } from './pageRule'
import { pageRulesInWords } from './pageWords'
import { rulesFromExamples } from './ruleFromExamples'
import { matchesWildcards } from './wildcards'

const at = (...paths: string[]) => paths.map((path) => `https://kc.test${path}`)
const best = (included: string[], excluded: string[], all: string[] = []) => {
  const [found] = rulesFromExamples(at(...included), at(...excluded), at(...all))
  return found && { rule: pageRulesInWords(found.rules), others: found.others.map((each) => new URL(each).pathname) }
}

test.each<[string[], string[], string]>([
  [['/crossings/torrin', '/crossings/ennisay'], ['/', '/passes'], 'addresses that begin with /crossings/'],
  [['/passes'], ['/passes/island-hopper'], '/passes'],
  [['/a/fares', '/b/fares'], ['/a', '/b'], 'addresses that end with /fares'],
  [['/book', '/book/seats', '/book/pay'], ['/book/done'], 'addresses that begin with /book, but not /book/done'],
  [['/?from=mail', '/passes?from=mail'], ['/', '/passes'], 'addresses whose parameter from is there'],
  [['/book/done', '/passes'], ['/', '/book', '/book/seats'], '/book/done or /passes'],
])('%j without %j is %s', (included, excluded, expected) => {
  expect(best(included, excluded)?.rule).toBe(expected)
})

test('tells what else a rule would let in, and nothing where one address is both', () => {
  expect(best(['/crossings/torrin', '/crossings/ennisay'], ['/'], ['/crossings/old', '/help'])).toMatchObject({
    others: ['/crossings/old'],
  })
  expect(best(['/a'], ['/a'])).toBeUndefined()
  expect(best([], ['/a'])).toBeUndefined()
})

test('whatever is proposed lets in all of one kind and none of the other', () => {
  const path = fc
    .array(fc.constantFrom('book', 'done', 'crossings', 'torrin', 'fares', 'old-fares'), { minLength: 1, maxLength: 3 })
    .map((parts) => `https://kc.test/${parts.join('/')}`)
  const some = fc.uniqueArray(path, { minLength: 1, maxLength: 5 })
  fc.assert(
    fc.property(some, some, (included, others) => {
      const excluded = others.filter((each) => !included.includes(each))
      const proposals = rulesFromExamples(included, excluded, [])
      // Five addresses can at least be listed.
      expect(proposals.length).toBeGreaterThan(0)
      for (const { rules } of proposals) {
        expect(included.every((address) => matchesPage(rules, address))).toBe(true)
        expect(excluded.some((address) => matchesPage(rules, address))).toBe(false)
      }
    }),
  )
})

test('patterns with * fit what the same regular expression fits', () => {
  const text = fc.string({ unit: fc.constantFrom('a', 'b', '/'), maxLength: 8 })
  const pattern = fc.string({ unit: fc.constantFrom('a', 'b', '/', '*'), maxLength: 6 })
  fc.assert(
    fc.property(pattern, text, (like, each) => {
      expect(matchesWildcards(like, each)).toBe(new RegExp(`^${like.replaceAll('*', '.*')}$`).test(each))
    }),
  )
})

test('each address that occurred is in or out by a rule, and rules that do nothing are told', () => {
  const rules = [
    { match: 'begins', value: '/book' },
    { match: 'exact', value: '/book/done', isExcluded: true },
    { match: 'exact', value: '/gone' },
    { match: 'begins', value: '/book' },
  ] as const
  const occurred = at('/', '/book', '/book/done').map((address) => ({ address, visitors: 10 }))
  expect(judgeAddresses(rules, occurred).map(({ isIn, by }) => [isIn, by])).toEqual([
    [false, null],
    [true, 0],
    [false, 1],
  ])
  expect(idleRules(rules, occurred)).toEqual([
    { rule: 2, text: 'No address of the last four weeks fits this rule.' },
    { rule: 3, text: 'The same rule stands above.' },
  ])
  for (const address of occurred)
    expect(judgeAddresses(rules, [address])[0]!.isIn).toBe(matchesPage(rules, address.address))
})
