import { afterEach, expect, test, vi } from 'vitest'
import { findRegexProblem, regexProblem } from './regexProblem'

afterEach(() => vi.restoreAllMocks())

test.each([['^/crossings/(torrin|ennisay)$'], ['[?&]ref=KC-\\d{4}'], ['^/passes(/|$)'], ['/[a-z]{2}/book$']])(
  '%s may be a rule',
  (source) => {
    expect(regexProblem(source)).toBeNull()
  },
)

test.each([
  ['(a+)+$', /very long|cannot be told/],
  ['^(/[a-z]+)*/?([a-z/]+)*x$', /very long|cannot be told/],
  ['(x|x)*y', /very long|cannot be told/],
  ['([', /cannot be read/],
  ['(?<=a', /cannot be read/],
  ['a'.repeat(201), /longer than 200/],
])('%s is refused with the reason', (source, reason) => {
  expect(regexProblem(source)).toMatch(reason)
})

test('an ordinary expression is a rule on a machine that stands still for a second again and again, too', () => {
  let clock = 0
  vi.spyOn(Date, 'now').mockImplementation(() => (clock += 1000))
  for (const source of ['/travelers$', '^/book(/[a-z0-9-]+)?/(travelers|pay)$', '[?&]ref=KC-\\d{4}'])
    expect(findRegexProblem(source)).toBeNull()
  expect(findRegexProblem('(x|x)*y')).toMatch('cannot be told')
})
