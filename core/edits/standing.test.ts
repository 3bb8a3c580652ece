import { expect, test } from 'vitest'
import { isBuiltIn, standingOverall } from './standing'

test('what one page needs is needed, and pages that an edit is not for do not count', () => {
  expect(standingOverall(['built in', 'elsewhere', 'needed'])).toBe('needed')
  expect(standingOverall(['built in', 'lost'])).toBe('lost')
  expect(standingOverall(['elsewhere', 'built in'])).toBe('built in')
  expect(standingOverall(['elsewhere'])).toBe('unknown')
})

test('all that can be seen must be built in, and something must be', () => {
  expect(isBuiltIn(['built in', 'unknown'])).toBe(true)
  expect(isBuiltIn(['built in', 'lost'])).toBe(false)
  expect(isBuiltIn(['unknown'])).toBe(false)
  expect(isBuiltIn([])).toBe(false)
})
