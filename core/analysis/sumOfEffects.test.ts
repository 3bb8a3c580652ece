import { describe, expect, test } from 'vitest'
import { sumOfEffects } from './sumOfEffects'

describe('The sum of single effects', () => {
  test('counts each by the share of the visitors who got it', () => {
    const promised = sumOfEffects(
      [
        { difference: 0.02, standardError: 0.004, visitors: 5000 },
        { difference: -0.01, standardError: 0.003, visitors: 10_000 },
      ],
      10_000,
      0.1,
      0.05,
    )
    expect(promised.difference).toBeCloseTo(0, 12)
    // √(0.002² + 0.003²), and 1.959964 of it on either side, relative to 0.1.
    expect(promised.standardError).toBeCloseTo(0.00360555, 7)
    expect(promised.interval![0]).toBeCloseTo(-0.0706675, 6)
    expect(promised.interval![1]).toBeCloseTo(0.0706675, 6)
  })

  test('has no lift where those without anything have a mean of zero', () => {
    const effects = [{ difference: 0.02, standardError: 0.004, visitors: 10 }]
    expect(sumOfEffects(effects, 10, 0, 0.05)).toMatchObject({ difference: 0.02, lift: null, interval: null })
  })
})
