import { expect, test } from 'vitest'
import { expectClose } from '../../tests/expectations'
import { checkAllocation } from './allocation'
import reference from './reference/reference.json'

test.each(reference.allocations)('allocation of $counts agrees with SciPy', (expected) => {
  const actual = checkAllocation(expected.counts, expected.weights)
  expectClose(actual.chiSquare, expected.chiSquare)
  expectClose(actual.pValue, expected.pValue)
  expectClose(actual.sequentialPValue, expected.sequentialPValue)
  expect(actual.alarm).toBe(expected.sequentialPValue < 0.001)
})

test('weights of zero are refused', () => {
  expect(() => checkAllocation([1, 2], [1, 0])).toThrow('above zero')
  expect(() => checkAllocation([1, 2], [1])).toThrow('weight')
})
