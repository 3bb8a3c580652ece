import { describe, expect, test } from 'vitest'
import { firstExposure } from './firstExposure'
import { countedAmount, isCounted, type MeasuredEvent, type MetricSource } from './metric'
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

describe('what a source counts', () => {
  const base = { id: 'e', view: 'v', at: 0 }
  const events: MeasuredEvent[] = [
    { ...base, type: 'page', address: 'https://a.test/book/done?ref=1' },
    { ...base, type: 'page', address: 'https://a.test/book/done?ref=2' },
    { ...base, type: 'click', address: 'https://a.test/', element: 'body>main:nth-child(1)>a#book:nth-child(2)' },
    {
      ...base,
      type: 'click',
      address: 'https://a.test/',
      element: 'body>main:nth-child(1)>p:nth-child(3)',
      amount: 77,
    },
    { ...base, type: 'submit', address: 'https://a.test/', element: 'body>form#finder:nth-child(1)' },
    { ...base, type: 'amount', address: 'https://a.test/book/done', name: '#total', amount: 40 },
    { ...base, type: 'amount', address: 'https://a.test/book/done', name: '#total', amount: 2.5 },
    { ...base, type: 'amount', address: 'https://a.test/other', name: '#total', amount: 1000 },
    { ...base, type: 'custom', address: 'https://a.test/', name: 'order', amount: 7 },
    { ...base, type: 'custom', address: 'https://a.test/', name: 'order' },
  ]
  const page = { match: 'exact', value: '/book/done' } as const
  test.each<[MetricSource, number, number]>([
    [{ type: 'visit', page }, 2, 2],
    [{ type: 'click', selector: '#book' }, 1, 1],
    // An amount on a click is nobody's.
    [{ type: 'click', selector: 'main' }, 2, 2],
    [{ type: 'submit', selector: '#finder' }, 1, 1],
    [{ type: 'submit', selector: '#book' }, 0, 0],
    [{ type: 'pageAmount', page, selector: '#total' }, 2, 42.5],
    [{ type: 'event', name: 'order' }, 2, 8],
    [{ type: 'event', name: 'refund' }, 0, 0],
  ])('%o', (source, counted, sum) => {
    expect(events.filter((event) => isCounted(source, event))).toHaveLength(counted)
    expect(events.reduce((total, event) => total + countedAmount(source, event), 0)).toBe(sum)
  })
})

describe('first exposure', () => {
  const sighting = (variant: number, at: number, id = `e${at}`) => ({
    variant,
    at,
    id,
    view: `v${id}`,
    period: variant,
    shownAfter: 100 * at,
  })
  test('does not depend on the order of arrival', () => {
    const sightings = [sighting(1, 30), sighting(0, 10), sighting(1, 20)]
    const expected = { ...sighting(0, 10), crossed: true }
    expect(firstExposure(null, sightings)).toEqual(expected)
    expect(firstExposure(firstExposure(null, sightings.slice(0, 1)), sightings.slice(1))).toEqual(expected)
  })
  test('of two at the same time is the one with the smaller id, whichever came first', () => {
    const [one, other] = [sighting(0, 10, 'a'), sighting(1, 10, 'b')]
    expect(firstExposure(firstExposure(null, [one]), [other])).toEqual({ ...one, crossed: true })
    expect(firstExposure(firstExposure(null, [other]), [one])).toEqual({ ...one, crossed: true })
  })
  test('seeing the same variant again is not crossing', () => {
    const known = { ...sighting(1, 5), crossed: false }
    expect(firstExposure(known, [sighting(1, 9)])).toEqual(known)
    expect(firstExposure(null, [])).toBeNull()
  })
})
