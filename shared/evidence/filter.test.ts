import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import type { PageRule } from '../../core/targeting/pageRule'
import { openablePath, pageText, readPage } from './filter'

describe('pages of a report as text', () => {
  test.each([
    ['is:/book', { match: 'exact', value: '/book' }],
    ['contains:a.b:c', { match: 'contains', value: 'a.b:c' }],
    ['host.is:shop.example', { match: 'exact', value: 'shop.example', part: 'host' }],
    ['path.ends:/torrin', { match: 'ends', value: '/torrin', part: 'path' }],
    [
      'parameter.from.is.anycase:mail',
      { match: 'exact', value: 'mail', part: 'parameter', parameter: 'from', ignoresCase: true },
    ],
    ['fragment.there:', { match: 'present', value: '', part: 'fragment' }],
    ['regex:^/crossings/(torrin|ennisay)$', { match: 'regex', value: '^/crossings/(torrin|ennisay)$' }],
  ])('%s', (text, rule) => {
    expect(readPage(text)).toEqual(rule)
    expect(pageText(rule as PageRule)).toBe(text)
  })

  test.each([
    '',
    'is',
    'is:',
    'is:book',
    'unlike:/book',
    'is.twice:/book',
    'parameter..is:x',
    'there:',
    'regex:(',
    'regex:^(a+)+$',
  ])('“%s” is no rule', (text) => expect(readPage(text)).toBeNull())

  test('any parameter and value comes back as it was', () =>
    fc.assert(
      fc.property(fc.string({ minLength: 1 }), fc.string({ minLength: 1 }), (parameter, value) => {
        const rule: PageRule = { match: 'contains', value, part: 'parameter', parameter }
        expect(readPage(pageText(rule))).toEqual(rule)
      }),
    ))

  test('a rule of many pages opens at one of them', () => {
    const texts = ['begins:/crossings/', 'is:/book', 'fits:/crossings/*/old', 'host.is:shop.example', 'contains:x']
    expect(texts.map(openablePath)).toEqual(['/crossings/', '/book', '/crossings/', '/', '/'])
  })
})
