import { expect, test } from 'vitest'
import { regexProblem } from './regexProblem'

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
