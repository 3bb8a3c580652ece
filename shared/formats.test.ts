import { describe, expect, test } from 'vitest'
import {
  formatAmount,
  formatCount,
  formatDifference,
  formatLift,
  formatPercent,
  formatMetric,
  formatNumber,
  formatPEquals,
  formatPValue,
  formatShare,
  formatSum,
  formatTime,
  isMoney,
  variantLetter,
} from './formats'

const conversion = {
  kind: 'conversion',
  source: { type: 'pageAmount', page: { match: 'exact', value: '/' }, selector: '#x' },
} as const
const money = { ...conversion, kind: 'mean' } as const
const clicks = { kind: 'ratio', source: { type: 'click', selector: '#x' } } as const

test.each([
  [formatCount(12_340), '12,340'],
  [formatShare(0.0824), '8.24 %'],
  [formatShare(null), '–'],
  [formatShare(1, 0), '100 %'],
  [formatAmount(1284.5, 'EUR'), '€1,284.50'],
  [formatLift(0.0412), '+4.1 %'],
  [formatLift(-0.0412), '−4.1 %'],
  [formatLift(-0.0001), '0.0 %'],
  [formatPercent(0.025), '2.5 %'],
  [formatLift(null), '–'],
  [formatPValue(0.0342), '0.034'],
  [formatPValue(0.00004), '< 0.001'],
  [formatPValue(null), '–'],
  [formatPEquals(0.5), 'p = 0.500'],
  [formatPEquals(0.0001), 'p < 0.001'],
  [formatNumber(0.041234), '0.04123'],
  [formatNumber(1284.52), '1,285'],
  [formatTime('2026-11-23T13:05:00Z', 'Europe/Dublin'), 'Nov 23, 2026, 13:05'],
  [variantLetter(0) + variantLetter(2), 'AC'],
])('%s', (actual, expected) => expect(actual).toBe(expected))

describe('a metric is written in its own unit', () => {
  test('a conversion is a share, whatever it counts', () => {
    expect(isMoney(conversion)).toBe(false)
    expect(formatMetric(conversion, 0.125, 'EUR')).toBe('12.50 %')
    expect(formatSum(conversion, 1250, 'EUR')).toBe('1,250')
    expect(formatDifference(conversion, -0.0125, 'EUR')).toBe('−1.25 points')
  })
  test('amounts are money', () => {
    expect(formatMetric(money, 12.4, 'GBP')).toBe('£12.40')
    expect(formatSum(money, 1250, 'EUR')).toBe('€1,250.00')
    expect(formatDifference(money, 0.5, 'EUR')).toBe('+€0.50')
  })
  test('clicks are counts', () => {
    expect(formatMetric(clicks, 0.21386, 'EUR')).toBe('0.2139')
    expect(formatDifference(clicks, 0.021, 'EUR')).toBe('+0.021')
    expect(formatMetric(clicks, null, 'EUR')).toBe('–')
  })
})
