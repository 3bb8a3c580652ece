import { describe, expect, test } from 'vitest'
import { firstExposure } from './firstExposure'
import { visitorValue, type MeasuredEvent, type MetricSource } from './metric'
import { parseAmount } from './parseAmount'

test.each([
  ['€ 84.50', 84.5],
  ['1.284,50 €', 1284.5],
  ['€ 1,284.50', 1284.5],
  ["CHF 1'284.05", 1284.05],
  ['Total: 1 284,5', 1284.5],
  ['1.234', 1234],
  ['12,5', 12.5],
  ['1,234,567', 1234567],
  ['−', null],
  ['-3.20', -3.2],
])('amount in %s', (text, amount) => {
  expect(parseAmount(text)).toBe(amount)
})

describe('value of a visitor', () => {
  const events: MeasuredEvent[] = [
    { type: 'page', address: 'https://a.test/book/done?ref=1' },
    { type: 'page', address: 'https://a.test/book/done?ref=2' },
    { type: 'click', address: 'https://a.test/', selectors: ['#book'] },
    { type: 'amount', address: 'https://a.test/book/done', selectors: ['#total'], amount: 40 },
    { type: 'amount', address: 'https://a.test/book/done', selectors: ['#total'], amount: 2.5 },
    { type: 'custom', address: 'https://a.test/', name: 'order', amount: 7 },
    { type: 'custom', address: 'https://a.test/', name: 'order' },
  ]
  const page = { match: 'exact', value: '/book/done' } as const
  test.each<[MetricSource, number, number]>([
    [{ type: 'visit', page }, 1, 2],
    [{ type: 'click', selector: '#book' }, 1, 1],
    [{ type: 'submit', selector: '#book' }, 0, 0],
    [{ type: 'pageAmount', page, selector: '#total' }, 1, 42.5],
    [{ type: 'event', name: 'order' }, 1, 8],
    [{ type: 'event', name: 'refund' }, 0, 0],
  ])('%o', (source, converted, sum) => {
    expect(visitorValue({ kind: 'conversion', source }, events)).toBe(converted)
    expect(visitorValue({ kind: 'mean', source }, events)).toBe(sum)
  })
})

describe('first exposure', () => {
  test('does not depend on the order of arrival', () => {
    const sightings = [
      { variant: 1, at: 30 },
      { variant: 0, at: 10 },
      { variant: 1, at: 20 },
    ]
    const expected = { variant: 0, at: 10, crossed: true }
    expect(firstExposure(null, sightings)).toEqual(expected)
    expect(firstExposure(firstExposure(null, sightings.slice(0, 1)), sightings.slice(1))).toEqual(expected)
  })
  test('seeing the same variant again is not crossing', () => {
    expect(firstExposure({ variant: 1, at: 5, crossed: false }, [{ variant: 1, at: 9 }])).toEqual({
      variant: 1,
      at: 5,
      crossed: false,
    })
    expect(firstExposure(null, [])).toBeNull()
  })
})
