import fc from 'fast-check'
import { expect, test } from 'vitest'
import { matchesPage, type PageRule } from './pageRule'
import { pagePattern } from './pagePattern'

const fits = (rules: PageRule[], address: string) => new RegExp(pagePattern(rules)).test(address)

test('a pattern fits every page that the rules let in', () => {
  const path = fc
    .array(fc.constantFrom('book', 'done', 'über uns', 'a.b', 'c+d', '(x)'), { maxLength: 3 })
    .chain((steps) => fc.constantFrom('', '/').map((end) => `/${steps.join('/')}${steps.length > 0 ? end : ''}`))
  const query = fc.constantFrom('', '?step=2', '?step=2&to=a.b', '?q=(x)')
  const rule = fc.record({
    match: fc.constantFrom<PageRule['match']>('exact', 'begins', 'contains'),
    value: fc.tuple(path, query).map((parts) => parts.join('')),
  })
  fc.assert(
    fc.property(
      fc.array(rule, { minLength: 1, maxLength: 3 }),
      fc.tuple(path, query, fc.constantFrom('', '#there')),
      (rules, parts) => {
        const { href } = new URL(`https://pages.example${parts.join('')}`)
        if (matchesPage(rules, href)) expect(fits(rules, href), href).toBe(true)
      },
    ),
    { numRuns: 5000 },
  )
})

test.each<[PageRule[], string, boolean]>([
  [[{ match: 'exact', value: '/book' }], 'https://pages.example/book?day=1', true],
  [[{ match: 'exact', value: '/book' }], 'https://pages.example/book/done', false],
  [[{ match: 'exact', value: '/' }], 'https://pages.example/', true],
  [[{ match: 'exact', value: '/' }], 'https://pages.example/book', false],
  [[{ match: 'exact', value: '/book?step=2' }], 'https://pages.example/book?step=3', false],
  [[{ match: 'begins', value: '/book' }], 'https://pages.example/passes', false],
  [[{ match: 'contains', value: 'ö' }], 'https://pages.example/%C3%B6', true],
  [[{ match: 'contains', value: 'book' }], 'https://pages.example/passes', false],
  [
    [
      { match: 'exact', value: '/' },
      { match: 'begins', value: '/book' },
    ],
    'https://pages.example/book/1',
    true,
  ],
])('%j fits %s: %s', (rules, address, expected) => {
  expect(fits(rules, address)).toBe(expected)
})

test('rules that no short pattern tells fit every page', () => {
  for (const rules of [
    [{ match: 'regex', value: '^/x$' }],
    [{ match: 'exact', value: '/x', isExcluded: true }],
    [{ match: 'exact', value: `/${'x'.repeat(600)}` }],
  ] as PageRule[][])
    expect(fits(rules, 'https://pages.example/other')).toBe(true)
})
