import { describe, expect, test } from 'vitest'
import { seededUniform } from '../random/seededUniform'
import { normalQuantile, normalUpperTail } from './distributions'
import { adjustedEstimate, probabilityAtOrAbove, repeatedPValue, spendingBounds, type TakenLook } from './errorSpending'
import { conditionalPower, predictivePower } from './curtailment'
import { alphaSpent, crossingProbabilities } from './groupSequential'

const PLAN = { alpha: 0.05, plannedInformation: 400 }
const even = (looks: number, end = 400) => Array.from({ length: looks }, (_, look) => ((look + 1) * end) / looks)

describe('the error that is spent', () => {
  test.each([1, 2, 5, 42])('is the whole of it at the planned end, with %i looks', (looks) => {
    const bounds = spendingBounds(even(looks), PLAN, true)
    const fractions = even(looks).map((each) => each / 400)
    expect(crossingProbabilities(fractions, bounds, 0).at(-1)).toBeCloseTo(0.05, 6)
  })

  test('is the whole of it where less came than was planned, and where more came', () => {
    for (const end of [250, 520]) {
      const bounds = spendingBounds(even(10, end), PLAN, true)
      const fractions = even(10, end).map((each) => each / end)
      expect(crossingProbabilities(fractions, bounds, 0).at(-1)).toBeCloseTo(0.05, 6)
    }
    // Before its end a plan has spent by what has come.
    const early = spendingBounds(even(5, 250), PLAN, false)
    const spent = crossingProbabilities(
      even(5, 250).map((each) => each / 250),
      early,
      0,
    ).at(-1)!
    expect(spent).toBeCloseTo(alphaSpent('obrien-fleming', 250 / 400, 0.05), 6)
  })

  test('leaves nothing for a look beyond the planned information', () => {
    expect(spendingBounds([200, 410, 450], PLAN, false)[2]).toBe(Infinity)
  })
})

/** A run that stops at its boundaries, where the difference is really so large. */
function run(random: () => number, truth: number, informations: readonly number[], bounds: readonly number[]) {
  const looks: TakenLook[] = []
  let [score, before] = [0, 0]
  for (const [look, information] of informations.entries()) {
    const step = information - before
    score += truth * step + Math.sqrt(step) * normalQuantile(random())
    before = information
    looks.push({ information, difference: score / information })
    if (Math.abs(score / Math.sqrt(information)) >= bounds[look]!) break
  }
  return looks
}

describe('runs that stop at their boundaries', () => {
  const informations = even(6)
  const bounds = spendingBounds(informations, PLAN, true)

  test.each([0, 0.1, 0.15])('come to every place of their order equally often, at a difference of %f', (truth) => {
    const random = seededUniform(4711)
    const places = Array.from({ length: 3000 }, () => {
      const looks = run(random, truth, informations, bounds)
      return probabilityAtOrAbove(looks, bounds.slice(0, looks.length), truth)
    }).sort((a, b) => a - b)
    // Kolmogorov–Smirnov at a level of 0.001.
    const off = Math.max(...places.map((each, place) => Math.abs(each - (place + 0.5) / places.length)))
    expect(off).toBeLessThan(1.95 / Math.sqrt(places.length))
  })

  test('overstate the difference, and the adjusted estimate does so in half of them', () => {
    const truth = 0.12
    const random = seededUniform(4712)
    const stopped = Array.from({ length: 400 }, () => {
      const looks = run(random, truth, informations, bounds)
      const own = adjustedEstimate(looks, bounds.slice(0, looks.length), 0.05)
      return { plain: looks.at(-1)!.difference, ...own }
    })
    const share = (holds: (each: (typeof stopped)[number]) => boolean) => stopped.filter(holds).length / stopped.length
    expect(stopped.reduce((sum, { plain }) => sum + plain, 0) / stopped.length).toBeGreaterThan(truth + 0.003)
    // Three standard errors.
    expect(Math.abs(share(({ estimate }) => estimate > truth) - 0.5)).toBeLessThan(0.075)
    expect(Math.abs(share(({ interval: [low, high] }) => low < truth && truth < high) - 0.95)).toBeLessThan(0.033)
  })
})

test('a single look is the fixed test, its estimate and its power', () => {
  const looks = [{ information: 400, difference: 0.11 }]
  expect(spendingBounds([400], PLAN, true)[0]).toBeCloseTo(1.959964, 5)
  expect(repeatedPValue(looks, PLAN, true) / (2 * normalUpperTail(2.2))).toBeCloseTo(1, 1)
  const { estimate, interval } = adjustedEstimate(looks, [1.959964], 0.05)
  expect(estimate).toBeCloseTo(0.11, 6)
  expect(interval[0]).toBeCloseTo(0.11 - 1.959964 / 20, 5)
  expect(interval[1]).toBeCloseTo(0.11 + 1.959964 / 20, 5)
  const outlook = { z: 0, information: 0, informations: [400], bounds: [1.959964] }
  expect(conditionalPower(outlook, 0.14)).toBeCloseTo(normalUpperTail(1.959964 - 2.8), 6)
  expect(predictivePower(outlook)).toBe(null)
})

test('the repeated p-value crosses the level where the boundary is crossed', () => {
  const informations = even(8).slice(0, 5)
  const bounds = spendingBounds(informations, PLAN, false)
  const at = (z: number) =>
    informations.map((information, look) => ({
      information,
      difference: (look === 4 ? z : 0.5) / Math.sqrt(information),
    }))
  expect(repeatedPValue(at(bounds[4]! + 0.05), PLAN, false)).toBeLessThan(0.05)
  expect(repeatedPValue(at(bounds[4]! - 0.05), PLAN, false)).toBeGreaterThan(0.05)
})
