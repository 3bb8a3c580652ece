import { describe, expect, test } from 'vitest'
import { drawsFrom } from './draws'
import { seededUniform } from './seededUniform'

const MANY = 200_000

/** Mean and variance of many draws within five standard errors of what they should be. */
function expectDistribution(draw: () => number, mean: number, variance: number): void {
  let [sum, squares] = [0, 0]
  for (let index = 0; index < MANY; index++) {
    const gap = draw() - mean
    sum += gap
    squares += gap * gap
  }
  expect(Math.abs(sum / MANY)).toBeLessThanOrEqual(5 * Math.sqrt(variance / MANY))
  // The variance of a sample variance is about 2σ⁴/n, a little more for skewed ones.
  expect(Math.abs(squares / MANY - variance)).toBeLessThanOrEqual(8 * variance * Math.sqrt(2 / MANY) + 1e-12)
}

describe('binomial draws', () => {
  test.each([
    [5, 0.3],
    [20, 0.5],
    [1000, 0.002],
    [100, 0.1],
    [450, 0.05],
    [1000, 0.4],
    [40, 0.97],
    [1e6, 0.3],
    [3, 1],
    [0, 0.5],
    [7, 0],
  ])('of %d trials at %f', (trials, probability) => {
    const { binomial } = drawsFrom(seededUniform(3))
    expectDistribution(
      () => binomial(trials, probability),
      trials * probability,
      trials * probability * (1 - probability),
    )
    for (let index = 0; index < 1000; index++)
      expect(binomial(trials, probability)).toSatisfy(
        (value: number) => Number.isInteger(value) && value >= 0 && value <= trials,
      )
  })

  test('have the right shape, not only the right mean', () => {
    const { binomial } = drawsFrom(seededUniform(4))
    const counts = new Array<number>(41).fill(0)
    for (let index = 0; index < MANY; index++) counts[binomial(40, 0.4)]!++
    let mass = 0.6 ** 40
    let chiSquare = 0
    for (let successes = 0; successes <= 40; successes++) {
      if (mass * MANY > 20) chiSquare += (counts[successes]! - mass * MANY) ** 2 / (mass * MANY)
      mass *= ((40 - successes) / (successes + 1)) * (0.4 / 0.6)
    }
    // About 24 cells: 70 would come once in a million times.
    expect(chiSquare).toBeLessThan(70)
  })
})

test('normal draws', () => {
  const { normal } = drawsFrom(seededUniform(5))
  expectDistribution(() => normal(3, 2), 3, 4)
  expect(normal(3, 0)).toBe(3)
})

test('the same seed draws the same', () => {
  const draw = (seed: number) => Array.from({ length: 5 }, seededUniform(seed))
  expect(draw(1)).toEqual(draw(1))
  expect(draw(1)).not.toEqual(draw(2))
})
