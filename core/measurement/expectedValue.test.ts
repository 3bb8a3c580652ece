import { describe, expect, test } from 'vitest'
import { drawsFrom } from '../random/draws'
import { seededUniform } from '../random/seededUniform'
import { earlierBehavior, type EarlierBehavior } from './earlierBehavior'
import { expectedValue, fitExpectation, type ObservedVisitor } from './expectedValue'
import type { MeasuredEvent } from './metric'
import { DAY } from '../time/units'

const NOBODY: EarlierBehavior = { value: null, visits: 0, spent: 0, device: 'phone', source: 'direct' }
const draws = drawsFrom(seededUniform(27))
const observed = (count: number, of: (index: number) => ObservedVisitor) =>
  Array.from({ length: count }, (_, i) => of(i))
const noisy = (deviation: number) =>
  observed(4000, (index) => {
    const visits = index % 3
    const device = index % 2 ? 'phone' : 'desktop'
    const source = ['direct', 'mail', '__proto__'][(index % 7) % 3]!
    const earlier = { ...NOBODY, value: visits ? visits * 2 : null, visits, spent: visits * 10, device, source }
    const value = 5 + 0.5 * (earlier.value ?? 0) + (device === 'phone' ? -2 : 0) + (source === '__proto__' ? 3 : 0)
    return { earlier, value: draws.normal(value, deviation), denominator: 0 }
  })

describe('what is expected of a visitor', () => {
  test('is what visitors like that did, whatever their device and source are called', () => {
    const model = fitExpectation('mean', noisy(0.1))!
    const expected = (earlier: Partial<EarlierBehavior>) => expectedValue(model, { ...NOBODY, ...earlier })
    expect(expected({})).toBeCloseTo(3, 1)
    expect(expected({ device: 'desktop', source: '__proto__' })).toBeCloseTo(8, 1)
    expect(expected({ value: 4, visits: 2, spent: 20 }) - expected({})).toBeCloseTo(2, 1)
    // A source that nobody had, and one that every object has a property of, add nothing.
    expect(expected({ source: 'constructor' })).toBe(expected({ source: 'never seen' }))
    expect(model.explained).toBeGreaterThan(0.98)
  })

  test('one column alone is ridge regression by its closed form', () => {
    const rows = observed(1000, (index) => ({
      earlier: { ...NOBODY, visits: index % 2 },
      value: index % 2 ? 10 : 4,
      denominator: 0,
    }))
    const model = fitExpectation('mean', rows)!
    // The slope of a standardized column is Σxy / (n + 20): here 3·1000/1020 deviations.
    const difference = expectedValue(model, { ...NOBODY, visits: 1 }) - expectedValue(model, NOBODY)
    expect(difference).toBeCloseTo((6 * 1000) / 1020, 6)
    expect(model.base).toBeCloseTo(7 - (3 * 1000) / 1020, 6)
  })

  test('says how much it explains of visitors whom it was not fitted to', () => {
    expect(fitExpectation('mean', noisy(100))!.explained).toBeLessThan(0.005)
    // Of a variance of 2.7 + 4 the first part is known before.
    const half = fitExpectation('mean', noisy(2))!.explained
    expect(half).toBeGreaterThan(0.3)
    expect(half).toBeLessThan(0.55)
  })

  test('of a ratio is its linearization, so that a visitor who does as all do adds nothing', () => {
    const rows = observed(1000, (index) => {
      const views = 1 + (index % 5)
      const clicks = index % 2 ? views : 0
      return { earlier: { ...NOBODY, visits: index % 2 }, value: clicks, denominator: views }
    })
    const model = fitExpectation('ratio', rows)!
    const [often, never] = [expectedValue(model, { ...NOBODY, visits: 1 }), expectedValue(model, NOBODY)]
    expect(often).toBeGreaterThan(0.4)
    expect(often + never).toBeCloseTo(0, 1)
  })

  test('is nothing with too few visitors, or where all did the same', () => {
    expect(fitExpectation('mean', noisy(1).slice(0, 199))).toBeNull()
    expect(
      fitExpectation(
        'mean',
        observed(500, () => ({ earlier: NOBODY, value: 1, denominator: 0 })),
      ),
    ).toBeNull()
    expect(
      fitExpectation(
        'ratio',
        observed(500, () => ({ earlier: NOBODY, value: 1, denominator: 0 })),
      ),
    ).toBeNull()
  })
})

test('what a visitor did before: money and visits of 28 days, up to half an hour before the exposure', () => {
  const at = Date.UTC(2026, 2, 1)
  const paid = (days: number, amount: number, more: Partial<MeasuredEvent> = {}): MeasuredEvent => ({
    id: `e${days}`,
    at: at + days * DAY,
    view: 'v',
    type: 'custom',
    name: 'order',
    address: '/',
    amount,
    told: { amount, currency: 'EUR' },
    ...more,
  })
  const events = [
    paid(-30, 1),
    paid(-20, 10),
    paid(-3, 20),
    paid(-2, 40, { isUnconverted: true }),
    paid(-1, 80, { told: null }),
    paid(-0.01, 160),
    paid(1, 320),
  ]
  const visit = (days: number) => ({ startedAt: at + days * DAY, endedAt: at + days * DAY, views: 1 })
  const visits = [visit(-40), visit(-5), visit(-1), visit(-0.001)]
  const segments = { device: 'phone', source: 'mail' }
  expect(earlierBehavior(7, events, visits, { at, segments })).toEqual({
    value: 7,
    visits: 2,
    spent: 30,
    device: 'phone',
    source: 'mail',
  })
})
