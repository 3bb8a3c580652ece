import { describe, expect, test } from 'vitest'
import { seededUniform } from '../random/seededUniform'
import { normalQuantile, normalUpperTail } from './distributions'
import {
  adjustedEstimate,
  probabilityAtOrAbove,
  repeatedPValue,
  spendingBounds,
  type SpendingLook,
} from './errorSpending'
import { conditionalPower, predictivePower } from './curtailment'
import { alphaSpentBySide, crossingProbabilities, spendingBoundaries } from './groupSequential'
import boundaries from './reference/boundaries.json'

const PLAN = { alpha: 0.05 }
const even = (looks: number, end = 1) => Array.from({ length: looks }, (_, look) => ((look + 1) * end) / looks)

describe('the error that is spent', () => {
  test.each([1, 2, 5, 42])('is the whole of it at the planned end, with %i looks', (looks) => {
    const bounds = spendingBounds(even(looks), PLAN, true)
    expect(crossingProbabilities(even(looks), bounds, 0).at(-1)).toBeCloseTo(0.05, 6)
  })

  test('is the whole of it where less came than was planned, and where more came', () => {
    for (const end of [0.6, 1.3]) {
      const bounds = spendingBounds(even(10, end), PLAN, true)
      const fractions = even(10, end).map((each) => each / end)
      expect(crossingProbabilities(fractions, bounds, 0).at(-1)).toBeCloseTo(0.05, 6)
    }
    // Before its end a plan has spent by what has come.
    const early = spendingBounds(even(5, 0.6), PLAN, false)
    const spent = crossingProbabilities(even(5), early, 0).at(-1)!
    // A twentieth is kept for the last look.
    expect(spent).toBeCloseTo(0.95 * alphaSpentBySide('obrien-fleming', 0.6, 0.05), 6)
  })

  test('leaves nothing for a look beyond the planned information, but for the last', () => {
    const shares = [0.5, 1.02, 1.1]
    expect(spendingBounds(shares, PLAN, false)[2]).toBe(Infinity)
    expect(spendingBounds(shares, PLAN, true)[2]).toBeLessThan(4)
  })
})

describe('after stopping, lift and interval agree with R', () => {
  test.each(boundaries.stopped)('z $z', ({ z, estimate, interval }) => {
    const fractions = even(5)
    const spent = fractions.map((fraction) => alphaSpentBySide('obrien-fleming', fraction, 0.05))
    const bounds = spendingBoundaries(fractions, spent)
    const looks = z.map((each, look) => ({ share: fractions[look]!, z: each }))
    const own = adjustedEstimate(looks, bounds.slice(0, looks.length), 0.05)
    // R knows no lower boundary: it is met once in forty runs at most, and moves this in the third digit.
    expect(own.estimate).toBeCloseTo(estimate, 2)
    own.interval.forEach((end, side) => expect(end).toBeCloseTo(interval[side]!, 1))
  })
})

/** A run that stops at its boundaries, where z is expected to be so large at the planned end. */
function run(random: () => number, drift: number, shares: readonly number[], bounds: readonly number[]) {
  const looks: SpendingLook[] = []
  let [score, before] = [0, 0]
  for (const [look, share] of shares.entries()) {
    const step = share - before
    score += drift * step + Math.sqrt(step) * normalQuantile(random())
    before = share
    looks.push({ share, z: score / Math.sqrt(share) })
    if (Math.abs(looks.at(-1)!.z) >= bounds[look]!) break
  }
  return looks
}

describe('runs that stop at their boundaries', () => {
  const shares = even(6)
  const bounds = spendingBounds(shares, PLAN, true)

  test.each([0, 2, 3])('come to every place of their order equally often, where z is expected at %i', (drift) => {
    const random = seededUniform(4711)
    const places = Array.from({ length: 3000 }, () => {
      const looks = run(random, drift, shares, bounds)
      return probabilityAtOrAbove(looks, bounds.slice(0, looks.length), drift * Math.sqrt(looks.at(-1)!.share))
    }).sort((a, b) => a - b)
    // Kolmogorov–Smirnov at a level of 0.001.
    const off = Math.max(...places.map((each, place) => Math.abs(each - (place + 0.5) / places.length)))
    expect(off).toBeLessThan(1.95 / Math.sqrt(places.length))
  })

  test('overstate the difference, and the adjusted estimate does so in half of them', () => {
    const drift = 2.4
    const random = seededUniform(4712)
    const stopped = Array.from({ length: 200 }, () => {
      const looks = run(random, drift, shares, bounds)
      const { share, z } = looks.at(-1)!
      const { estimate, interval } = adjustedEstimate(looks, bounds.slice(0, looks.length), 0.05)
      const atEnd = (each: number) => each / Math.sqrt(share)
      return { plain: atEnd(z), estimate: atEnd(estimate), low: atEnd(interval[0]), high: atEnd(interval[1]) }
    })
    const share = (holds: (each: (typeof stopped)[number]) => boolean) => stopped.filter(holds).length / stopped.length
    expect(stopped.reduce((sum, { plain }) => sum + plain, 0) / stopped.length).toBeGreaterThan(drift + 0.06)
    // Three standard errors.
    expect(Math.abs(share(({ estimate }) => estimate > drift) - 0.5)).toBeLessThan(0.106)
    expect(Math.abs(share(({ low, high }) => low < drift && drift < high) - 0.95)).toBeLessThan(0.046)
  })
})

test('a single look is the fixed test, its estimate and its power', () => {
  const looks = [{ share: 1, z: 2.2 }]
  expect(spendingBounds([1], PLAN, true)[0]).toBeCloseTo(1.959964, 5)
  expect(repeatedPValue(looks, PLAN, true) / (2 * normalUpperTail(2.2))).toBeCloseTo(1, 1)
  const { estimate, interval } = adjustedEstimate(looks, [1.959964], 0.05)
  expect(estimate).toBeCloseTo(2.2, 6)
  expect(interval[0]).toBeCloseTo(2.2 - 1.959964, 5)
  expect(interval[1]).toBeCloseTo(2.2 + 1.959964, 5)
  const outlook = { z: 0, information: 0, informations: [400], bounds: [1.959964] }
  expect(conditionalPower(outlook, 0.14)).toBeCloseTo(normalUpperTail(1.959964 - 2.8), 6)
  expect(predictivePower(outlook)).toBe(null)
})

test.each([
  [8, 5],
  [180, 60],
])('the repeated p-value crosses the level where the boundary is crossed, of %i looks after %i', (of, taken) => {
  const shares = even(of).slice(0, taken)
  const bounds = spendingBounds(shares, PLAN, false)
  const at = (z: number) => shares.map((share, look) => ({ share, z: look === taken - 1 ? z : 0.5 * Math.sqrt(share) }))
  expect(repeatedPValue(at(bounds.at(-1)! + 0.05), PLAN, false)).toBeLessThan(0.05)
  expect(repeatedPValue(at(bounds.at(-1)! - 0.05), PLAN, false)).toBeGreaterThan(0.05)
})
