import { describe, expect, test } from 'vitest'
import type { MeasuredEvent, MetricDefinition } from './metric'
import { visitorNumbers } from './visitorNumbers'

const HOUR = 3_600_000
const EXPOSED = 100 * 24 * HOUR
const order = (hours: number, amount?: number): MeasuredEvent & { at: number } => ({
  type: 'custom',
  name: 'order',
  address: 'https://a.example/',
  amount,
  at: EXPOSED + hours * HOUR,
})
const view = (hours: number): MeasuredEvent & { at: number } => ({
  type: 'page',
  address: 'https://a.example/fares',
  at: EXPOSED + hours * HOUR,
})
const orders: MetricDefinition = { kind: 'mean', source: { type: 'event', name: 'order' } }
const perView: MetricDefinition = {
  kind: 'ratio',
  source: orders.source,
  denominator: { type: 'visit', page: { match: 'exact', value: '/fares' } },
}

describe('what a visitor adds', () => {
  test.each<[string, MetricDefinition, (MeasuredEvent & { at: number })[], number | null, object]>([
    ['nothing done', orders, [], null, { value: 0, denominator: 0, past: null }],
    [
      'amounts from the exposure on',
      orders,
      [order(0, 5), order(1, 0.1), order(2, 0.2)],
      null,
      { value: 5.3, denominator: 0, past: null },
    ],
    [
      'an event without an amount adds one',
      orders,
      [order(1), order(2)],
      null,
      { value: 2, denominator: 0, past: null },
    ],
    [
      'once, for a conversion',
      { ...orders, kind: 'conversion' },
      [order(1, 30), order(2, 30)],
      null,
      { value: 1, denominator: 0, past: null },
    ],
    [
      'nothing after the end',
      orders,
      [order(1, 5), order(3, 7)],
      EXPOSED + 2 * HOUR,
      { value: 5, denominator: 0, past: null },
    ],
    [
      'numerator and denominator',
      perView,
      [order(1, 8), view(0), view(2), view(-0.2)],
      null,
      { value: 8, denominator: 2, past: null },
    ],
    [
      'a past from an earlier visit',
      orders,
      [order(-48, 20), order(-24, 1), order(1, 5)],
      null,
      { value: 5, denominator: 0, past: 21 },
    ],
    [
      'a past of zero, for who came and ordered nothing',
      orders,
      [view(-48), order(1, 5)],
      null,
      { value: 5, denominator: 0, past: 0 },
    ],
    [
      'no past from the same visit',
      orders,
      [order(-0.4, 20), order(1, 5)],
      null,
      { value: 5, denominator: 0, past: null },
    ],
    [
      'no past from more than 28 days before',
      orders,
      [order(-29 * 24, 20), order(1, 5)],
      null,
      { value: 5, denominator: 0, past: null },
    ],
    [
      'a past of one, for a conversion',
      { ...orders, kind: 'conversion' },
      [order(-48, 20), order(-30, 20)],
      null,
      { value: 0, denominator: 0, past: 1 },
    ],
  ])('%s', (_, metric, events, until, expected) => {
    expect(visitorNumbers(metric, events, EXPOSED, until)).toEqual(expected)
    expect(visitorNumbers(metric, [...events].reverse(), EXPOSED, until)).toEqual(expected)
  })
})
