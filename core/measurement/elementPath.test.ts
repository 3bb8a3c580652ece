import { describe, expect, test } from 'vitest'
import { isWithin, selectorProblem } from './elementPath'

const PATH =
  'body>main.home.wide:nth-child(2):nth-of-type(1)>form#finder.finder:nth-child(3):nth-of-type(1)[name="find"]>button#find.button:nth-child(4):nth-of-type(1)[type="submit"]'

describe('an element on its path', () => {
  test.each([
    '#find',
    'button',
    '.button',
    'button#find.button',
    '*',
    'form button',
    'main > form > button',
    'body .home #find',
    '#finder',
    '.finder:nth-child(3)',
    'form:nth-of-type(1) button:nth-child(4)',
    'button:nth-child(even)',
    'button:nth-child(2n+2)',
    'form:nth-child(-n+3)',
    'main:first-of-type button',
    '[name=find] button',
    'button[type^=sub]',
    'button[type$=mit]',
    'button[type*=bmi]',
    '[type]',
    ':is(a, button)',
    'button:not(.plain)',
    'a, #find',
    'body>main>form',
  ])('%s finds it', (selector) => expect([isWithin(PATH, selector), selectorProblem(selector)]).toEqual([true, null]))

  test.each([
    '#find2',
    'a',
    '.button.plain',
    'main > button',
    'button form',
    '#find:nth-child(3)',
    'button:nth-child(odd)',
    'button:not(#find)',
    '[name=other] button',
    'button[type=button]',
    'form:nth-child(-n+2)',
    'button:first-child',
  ])('%s does not', (selector) => expect([isWithin(PATH, selector), selectorProblem(selector)]).toEqual([false, null]))

  test('with characters that were escaped', () => {
    expect(isWithin('body>a#\\31 0.md\\:flex:nth-child(1)', '.md\\:flex')).toBe(true)
    expect(isWithin('body>a#\\31 0.md\\:flex:nth-child(1)', '#\\31 0')).toBe(true)
  })
})

test.each<[string, RegExp]>([
  ['#', /not a CSS selector/],
  ['a:hover', /:hover is not kept/],
  ['a + b', /Neighbors/],
  ['a[data-id]', /data-id is not kept/],
  ['a:not([style])', /style is not kept/],
  ['a:nth-last-child(1)', /nth-last-child/],
])('%s cannot be counted, and matches nothing by mistake', (selector, why) => {
  expect(selectorProblem(selector)).toMatch(why)
})

test('a path or selector that cannot be read matches nothing', () => {
  expect(isWithin('>>>', '*')).toBe(false)
  expect(isWithin(PATH, '##')).toBe(false)
})

test('the longest path and selector are compared in steps that grow with both, and not with their combinations', () => {
  const path = Array(900).fill('a').join('>')
  for (const selector of [
    '#x a a a a a a a a',
    `#x${' a'.repeat(95)}`,
    `${'a '.repeat(60)}#x`,
    ':is(:is(:is(#x a a a a a) a a a) a a a) a a',
    'a:not(#x a a a a a a)',
  ]) {
    const steps = countReads(() => isWithin(path, selector))
    expect(steps).toBeLessThan(900 * selector.length)
  }
})

/** How often a tag is compared: what time would say, but the same on every machine. */
function countReads(work: () => void): number {
  const lower = String.prototype.toLowerCase
  let count = 0
  String.prototype.toLowerCase = function (this: string) {
    count++
    if (count > 10_000_000) throw new Error('It does not end.')
    return lower.call(this)
  }
  try {
    work()
  } finally {
    String.prototype.toLowerCase = lower
  }
  return count
}
