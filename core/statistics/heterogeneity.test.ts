import { expect, test } from 'vitest'
import { expectClose } from '../../tests/expectations'
import { heterogeneity } from './heterogeneity'
import reference from './reference/reference.json'

test('Cochran’s Q of segments agrees with statsmodels, and needs two', () => {
  const effects = reference.liftPrior.past.map(([estimate, variance]) => ({
    estimate: estimate!,
    standardError: Math.sqrt(variance!),
  }))
  const { q, degreesOfFreedom, pValue } = heterogeneity([...effects, { estimate: null, standardError: null }])
  expectClose(q, reference.liftPrior.q)
  expect(degreesOfFreedom).toBe(4)
  expectClose(pValue, reference.liftPrior.pValue)
  expect(heterogeneity(effects.slice(0, 1))).toMatchObject({
    q: null,
    pValue: null,
    why: expect.stringContaining('two segments'),
  })
})
