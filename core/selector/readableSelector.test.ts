import { expect, test } from 'vitest'
import { readabilityProblem } from './readableSelector'

test.each([
  'h1',
  '#book',
  '.fare a',
  'ul > li:nth-child(2)',
  '[data-x="1"]',
  'a:not(.b, :first-child)',
  'div:has(> p)',
])('browsers read %s', (selector) => expect(readabilityProblem(selector)).toBeNull())

test.each([
  ['#a[', /not a CSS selector/],
  ['', /ends before|not a CSS selector/],
  ['.fare >', /ends before|not a CSS selector/],
  ['.fare:eq(0)', /“:eq” is not known to browsers/],
  ['p:contains("x")', /“:contains” is not known/],
  ['a:not(.b:first)', /“:first” is not known/],
  ['[a!="b"]', /“!=” is not known to browsers/],
  ['h1::before', /“::before” is no element/],
])('browsers do not read %s, and it says why', (selector, expected) => {
  expect(readabilityProblem(selector)).toMatch(expected)
})
