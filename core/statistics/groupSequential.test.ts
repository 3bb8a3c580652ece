import { describe, expect, test } from 'vitest'
import { normalUpperTail } from './distributions'
import {
  alphaSpent,
  alphaSpentBySide,
  crossingProbabilities,
  driftForPower,
  mixtureBoundaries,
  spendingBoundaries,
  type Spending,
} from './groupSequential'
import { expectClose } from '../../tests/expectations'
import boundaries from './reference/boundaries.json'
import reference from './reference/reference.json'

const even = (looks: number) => Array.from({ length: looks }, (_, look) => (look + 1) / looks)

describe('boundaries agree with a dense recursion', () => {
  test.each(reference.boundaries)('$spending at $fractions', ({ spending, fractions, alphaSpent: spent, z }) => {
    const own = fractions.map((fraction) => alphaSpent(spending as Spending, fraction, reference.alpha))
    own.forEach((error, look) => expectClose(error, spent[look]!, 1e-9))
    spendingBoundaries(fractions, own).forEach((bound, look) => expectClose(bound, z[look]!, 1e-5))
  })
})

describe('boundaries and crossing agree with R', () => {
  test.each(boundaries.designs)('$spending, $alpha at $fractions', (design) => {
    const { spending, alpha, fractions, drifts, crossed, share } = design
    const spent = fractions.map((fraction) => alphaSpentBySide(spending as Spending, fraction, alpha))
    const bounds = spendingBoundaries(fractions, spent)
    // R solves for the error to 1e-8: where hardly any is spent, its boundary is coarse.
    design.z.forEach((z, look) =>
      z === null ? expect(bounds[look]).toBeGreaterThan(6) : expectClose(bounds[look]!, z, z > 4.5 ? 5e-3 : 1e-5),
    )
    drifts.forEach((drift, index) => {
      const chances = crossingProbabilities(fractions, bounds, drift)
      // R counts one side alone; the other is crossed by chance as well, as long as there is hardly any drift.
      const other = crossingProbabilities(fractions, bounds, 0).at(-1)! / 2
      expect(Math.abs(chances.at(-1)! - crossed[index]!)).toBeLessThanOrEqual((drift < 1 ? other : other / 5) + 1e-6)
      const [first, ...later] = fractions
      const until = later.reduce(
        (sum, fraction, look) => sum + (1 - chances[look]!) * (fraction - fractions[look]!),
        first!,
      )
      expect(Math.abs(until - share[index]!)).toBeLessThanOrEqual(other)
    })
  })
})

test('boundaries agree with published tables', () => {
  // Two sides of 0.025 each, spent as O'Brien and Fleming (Lan, DeMets 1983; Reboussin et al. 2000, table 1).
  const each = even(5).map((fraction) => alphaSpentBySide('obrien-fleming', fraction, 0.05))
  ;[4.8769, 3.3569, 2.6803, 2.2898, 2.031].forEach((bound, look) =>
    expect(spendingBoundaries(even(5), each)[look]).toBeCloseTo(bound, 3),
  )
  // Equal critical values of five looks spend 5 % at 2.413 (Pocock 1977, table 1).
  const pocock = new Array<number>(5).fill(2.413)
  expect(crossingProbabilities(even(5), pocock, 0).at(-1)).toBeCloseTo(0.05, 4)
  // What looking costs at power 0.9 (Jennison, Turnbull 2000, tables 2.2 and 2.4).
  const inflation = (bounds: number[]) => (driftForPower(even(5), bounds, 0.9) / (1.959964 + 1.281552)) ** 2
  expect(inflation(pocock)).toBeCloseTo(1.207, 2)
  expect(inflation(even(5).map((fraction) => 2.04 / Math.sqrt(fraction)))).toBeCloseTo(1.026, 2)
})

test('the crossing probabilities of the boundaries are the error that was spent', () => {
  const spent = even(10).map((fraction) => alphaSpent('pocock', fraction, 0.1))
  crossingProbabilities(even(10), spendingBoundaries(even(10), spent), 0).forEach((probability, look) =>
    expectClose(probability, spent[look]!, 1e-7),
  )
})

test('one look is the fixed test, for error and for power', () => {
  expectClose(spendingBoundaries([1], [0.05])[0], 1.959963984540054, 1e-9)
  expectClose(driftForPower([1], [1.959963984540054], 0.8), 2.8015852, 1e-5)
})

test('the always-valid boundary spends less than its error however many looks there are', () => {
  const spent = [1, 5, 60].map((looks) =>
    crossingProbabilities(even(looks), mixtureBoundaries(even(looks), 0.05), 0).at(-1)!,
  )
  expect(spent[0]).toBeCloseTo(2 * normalUpperTail(mixtureBoundaries([1], 0.05)[0]!), 8)
  expect(spent[1]).toBeGreaterThan(spent[0]!)
  expect(spent[2]).toBeGreaterThan(spent[1]!)
  expect(spent[2]).toBeLessThan(0.05)
})

test('looks at which nothing can be spent have no bound, and fractions must ascend', () => {
  expect(spendingBoundaries([0.001, 1], [0, 0.05])).toEqual([Infinity, expect.closeTo(1.96, 3)])
  for (const fractions of [[], [0], [0.5, 0.4], [0.5, 1.2]])
    expect(() =>
      spendingBoundaries(
        fractions,
        fractions.map(() => 0.05),
      ),
    ).toThrow(RangeError)
})
