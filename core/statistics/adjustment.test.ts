import { expect, test } from 'vitest'
import { expectClose } from '../../tests/expectations'
import { benjaminiHochberg } from './benjaminiHochberg'
import { holm } from './holm'
import reference from './reference/reference.json'

test('adjusted p-values agree with statsmodels', () => {
  const { pValues, ...expected } = reference.adjusted
  holm(pValues).forEach((p, index) => expectClose(p, expected.holm[index]!, 1e-12))
  benjaminiHochberg(pValues).forEach((p, index) => expectClose(p, expected.benjaminiHochberg[index]!, 1e-12))
  expect(holm([])).toEqual([])
})
