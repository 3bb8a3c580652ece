import betaCdf from '@stdlib/stats-base-dists-beta-cdf'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { expectClose } from '../../tests/expectations'
import { compareBetas, probabilityHighest, ratioQuantiles } from './betaPosterior'
import { normalCdf, normalQuantile } from './distributions'
import { fiellerInterval } from './fieller'
import { lambertWLower } from './lambertW'
import { tTestPower } from './noncentralT'
import { integratePanels, panelNodes } from './quadrature'
import reference from './reference/reference.json'
import { risingRoot } from './rootFinding'
import { mixtureParameter, sequentialHalfWidth, sequentialPValue } from './sequential'

describe('Beta posteriors', () => {
  const small = fc.integer({ min: 1, max: 40 })
  const beta = fc.record({ a: small, b: small })

  /** P(θ > θ₀) for whole parameters, as a finite sum (Cook 2005, Exact calculation of Beta inequalities). */
  function exactProbabilityAbove(control: { a: number; b: number }, variant: { a: number; b: number }): number {
    const logBeta = (a: number, b: number) => logFactorial(a - 1) + logFactorial(b - 1) - logFactorial(a + b - 1)
    let sum = 0
    for (let i = 0; i < variant.a; i++) {
      sum += Math.exp(
        logBeta(control.a + i, control.b + variant.b) -
          Math.log(variant.b + i) -
          logBeta(1 + i, variant.b) -
          logBeta(control.a, control.b),
      )
    }
    return sum
  }
  function logFactorial(n: number): number {
    let sum = 0
    for (let i = 2; i <= n; i++) sum += Math.log(i)
    return sum
  }

  test('P(better) is the finite sum that whole parameters have', () => {
    fc.assert(
      fc.property(beta, beta, (control, variant) =>
        expectClose(compareBetas(control, variant).probabilityAbove, exactProbabilityAbove(control, variant)),
      ),
      { numRuns: 60 },
    )
  })

  test('losses differ by the difference of the means, and neither is below zero', () => {
    fc.assert(
      fc.property(beta, beta, (control, variant) => {
        const { expectedShortfall, expectedExcess } = compareBetas(control, variant)
        expect(expectedShortfall).toBeGreaterThanOrEqual(0)
        expect(expectedExcess - expectedShortfall).toBeCloseTo(
          variant.a / (variant.a + variant.b) - control.a / (control.a + control.b),
          9,
        )
      }),
      { numRuns: 60 },
    )
  })

  test('quantiles of the ratio of the variant to the control are the inverses of those the other way round', () => {
    fc.assert(
      fc.property(beta, beta, (control, variant) => {
        const [low, high] = ratioQuantiles(control, variant, [0.025, 0.975])
        const [back, forth] = ratioQuantiles(variant, control, [0.025, 0.975])
        expectClose(low! * forth!, 1, 1e-6)
        expectClose(high! * back!, 1, 1e-6)
      }),
      { numRuns: 40 },
    )
  })

  test('a ratio to something known to a hair is a quantile of the variant itself', () => {
    const [median] = ratioQuantiles({ a: 5e9, b: 5e9 }, { a: 12, b: 30 }, [0.5])
    expect(betaCdf(median! / 2, 12, 30)).toBeCloseTo(0.5, 5)
  })

  test('alike posteriors are the best equally often', () => {
    for (const arms of [2, 3, 10])
      probabilityHighest(Array.from({ length: arms }, () => ({ a: 30, b: 400 }))).forEach((probability) =>
        expectClose(probability, 1 / arms, 1e-8),
      )
  })
})

describe('Fieller’s interval', () => {
  const arm = fc.record({
    mean: fc.double({ min: 0.1, max: 10, noNaN: true }),
    variance: fc.double({ min: 1e-6, max: 0.1, noNaN: true }),
  })

  test('ends where the difference to the scaled control is just significant', () => {
    fc.assert(
      fc.property(arm, arm, (control, variant) => {
        const interval = fiellerInterval(control, variant, 1.96)
        if (!interval) {
          expect(1.96 ** 2 * control.variance).toBeGreaterThanOrEqual(control.mean ** 2 * (1 - 1e-12))
          return
        }
        // Close to no bounds at all, the ends are far out and few digits are left.
        if (1.96 ** 2 * control.variance > 0.98 * control.mean ** 2) return
        for (const end of interval) {
          const ratio = 1 + end
          const z =
            (variant.mean - ratio * control.mean) / Math.sqrt(variant.variance + ratio * ratio * control.variance)
          expect(Math.abs(z)).toBeCloseTo(1.96, 4)
        }
        expect(interval[0]).toBeLessThanOrEqual(variant.mean / control.mean - 1)
        expect(interval[1]).toBeGreaterThanOrEqual(variant.mean / control.mean - 1)
      }),
    )
  })

  test('has no bounds where the control may be zero', () => {
    expect(fiellerInterval({ mean: 0, variance: 1 }, { mean: 1, variance: 1 }, 1.96)).toBeNull()
    expect(fiellerInterval({ mean: 1.9, variance: 1 }, { mean: 1, variance: 1 }, 1.96)).toBeNull()
  })
})

describe('the confidence sequence', () => {
  test('is narrowest, of all mixtures, at the information that was planned', () => {
    for (const alpha of [0.01, 0.05, 0.2]) {
      const best = sequentialHalfWidth(1000, mixtureParameter(1000, alpha), alpha)
      for (const factor of [0.5, 0.9, 1.1, 2])
        expect(sequentialHalfWidth(1000, factor * mixtureParameter(1000, alpha), alpha)).toBeGreaterThan(best)
    }
  })

  test('has a p-value of α where its interval ends', () => {
    const rho = mixtureParameter(1000, 0.05)
    for (const information of [1, 50, 1000, 1e6])
      expectClose(sequentialPValue(sequentialHalfWidth(information, rho, 0.05), information, rho), 0.05, 1e-9)
    expect(sequentialPValue(0, 10, rho)).toBe(1)
  })

  test.each(reference.lambertWLower)('rests on Lambert’s W: W₋₁(%f) agrees with mpmath', (x, w) => {
    expectClose(lambertWLower(x!), w!, 1e-12)
  })

  test('rests on Lambert’s W, which inverts w·eʷ', () => {
    fc.assert(
      fc.property(fc.double({ min: -600, max: -1.001, noNaN: true }), (w) =>
        expectClose(lambertWLower(w * Math.exp(w)), w, 1e-9),
      ),
    )
    expect(() => lambertWLower(0)).toThrow(RangeError)
    expect(() => lambertWLower(-1)).toThrow(RangeError)
  })
})

describe('numerical tools', () => {
  test('panels integrate polynomials exactly and bells to the last digits', () => {
    expectClose(
      integratePanels((x) => x ** 15 - 3 * x ** 4, [-1, 2]),
      2 ** 16 / 16 - 1 / 16 - (3 * (32 + 1)) / 5,
      1e-12,
    )
    const breaks = Array.from({ length: 19 }, (_, index) => index - 9)
    expectClose(
      integratePanels((x) => Math.exp((-x * x) / 2), breaks),
      Math.sqrt(2 * Math.PI),
      1e-12,
    )
    const { nodes, weights } = panelNodes(breaks)
    expectClose(
      nodes.reduce((sum, x, index) => sum + weights[index]! * Math.exp((-x * x) / 2), 0),
      Math.sqrt(2 * Math.PI),
      1e-12,
    )
    expect([...nodes]).toEqual([...nodes].sort((a, b) => a - b))
  })

  test('a rising root is found from far off, along kinks and on flat ground', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -30, max: 30, noNaN: true }),
        fc.double({ min: -30, max: 30, noNaN: true }),
        fc.constantFrom(
          (x: number) => x,
          (x: number) => x ** 3,
          Math.tanh,
          (x: number) => (x < 0 ? x / 50 : 7 * x),
        ),
        (root, guess, shape) => {
          expect(shape(risingRoot((x) => shape(x - root), guess, 1, 1e-10) - root)).toBeCloseTo(0, 8)
        },
      ),
    )
  })

  test('normal quantiles invert the distribution function, also far out', () => {
    for (const p of [1e-12, 1e-5, 0.3, 0.5, 0.999]) expectClose(normalCdf(normalQuantile(p)), p, 1e-9)
  })

  test('the power of a t test without an effect is its error, and grows to that of a z test', () => {
    for (const degreesOfFreedom of [1, 3, 30, 1e4, 1e9]) expectClose(tTestPower(0, degreesOfFreedom, 0.05), 0.05, 1e-6)
    expectClose(
      tTestPower(2.8, 1e9, 0.05),
      normalCdf(2.8 - 1.959963984540054) + normalCdf(-2.8 - 1.959963984540054),
      1e-6,
    )
  })
})
