import { expect, test } from 'vitest'
import { seededUniform } from '../random/seededUniform'
import { conditionalPower, predictivePower } from './curtailment'
import { normalQuantile, normalUpperTail } from './distributions'
import { spendingBounds } from './errorSpending'

const PLAN = { alpha: 0.05 }
const even = (looks: number) => Array.from({ length: looks }, (_, look) => ((look + 1) * 400) / looks)

test('the chance to get there is what simulated runs come to, and its average lies between', () => {
  const informations = even(4).slice(1)
  const bounds = spendingBounds([0.25, 0.5, 0.75, 1], PLAN, true).slice(1)
  const outlook = { z: 1.2, information: 100, informations, bounds }
  const random = seededUniform(4713)
  const [truth, runs] = [0.1, 20_000]
  let crossed = 0
  for (let index = 0; index < runs; index++) {
    let [score, before] = [1.2 * 10, 100]
    for (const [look, information] of informations.entries()) {
      const step = information - before
      score += truth * step + Math.sqrt(step) * normalQuantile(random())
      before = information
      const z = score / Math.sqrt(information)
      if (Math.abs(z) < bounds[look]!) continue
      if (z > 0) crossed++
      break
    }
  }
  const chance = conditionalPower(outlook, truth)
  expect(Math.abs(chance - crossed / runs)).toBeLessThan(4 * Math.sqrt((chance * (1 - chance)) / runs))
  const average = predictivePower(outlook)!
  expect(average).toBeGreaterThan(conditionalPower(outlook, 0))
  expect(average).toBeLessThan(conditionalPower(outlook, 0.3))
  // After the data the end lies where now points to, spread by both: one look has a closed form.
  const last = { z: 1.2, information: 100, informations: [400], bounds: [2] }
  expect(predictivePower(last)).toBeCloseTo(
    normalUpperTail((2 * Math.sqrt(100) - 1.2 * Math.sqrt(400)) / Math.sqrt(300)),
    4,
  )
})
