import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import type { MeasuredEvent, MetricDefinition, MetricSource } from './metric'
import { addEvents, cappedNumbers, firstOfEach, NOTHING, withVisits } from './visitorNumbers'
import { HOUR } from '../time/units'

const EXPOSED = 100 * 24 * HOUR
let count = 0
const event = (hours: number, more: Partial<MeasuredEvent>): MeasuredEvent => ({
  id: `e${String(++count).padStart(6, '0')}`,
  view: 'other',
  type: 'custom',
  address: 'https://a.example/',
  at: EXPOSED + hours * HOUR,
  ...more,
})
const order = (hours: number, amount?: number, more: Partial<MeasuredEvent> = {}) =>
  event(hours, { name: 'order', amount, ...more })
const view = (hours: number, more: Partial<MeasuredEvent> = {}) =>
  event(hours, { type: 'page', address: 'https://a.example/fares', ...more })
const orders: MetricDefinition = { kind: 'mean', source: { type: 'event', name: 'order' } }
const perView: MetricDefinition = {
  kind: 'ratio',
  source: orders.source,
  denominator: { type: 'visit', page: { match: 'exact', value: '/fares' } },
}
const exposure = (until: number | null) => ({ at: EXPOSED, view: 'exposing', until })

describe('what a visitor adds', () => {
  test.each<[string, MetricDefinition, MeasuredEvent[], number | null, object]>([
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
      'an amount in a currency without a rate adds nothing',
      orders,
      [order(1, 9, { isUnconverted: true }), order(2, 4)],
      null,
      { value: 4, denominator: 0, past: null },
    ],
    [
      'but it did happen',
      { ...orders, kind: 'conversion' },
      [order(1, 9, { isUnconverted: true })],
      null,
      { value: 1, denominator: 0, past: null },
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
      'the view that exposes, which began before',
      perView,
      [view(-0.001, { view: 'exposing' }), order(1, 3)],
      null,
      { value: 3, denominator: 1, past: null },
    ],
    [
      'no click of that view from before',
      { ...orders, kind: 'conversion' },
      [order(-0.001, 1, { view: 'exposing' })],
      null,
      { value: 0, denominator: 0, past: null },
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
    expect(addEvents(metric, NOTHING, events, exposure(until))).toEqual(expected)
    expect(addEvents(metric, NOTHING, [...events].reverse(), exposure(until))).toEqual(expected)
  })
})

test('any order and any portions give the same numbers', () => {
  const anEvent = fc
    .tuple(
      fc.integer({ min: -800, max: 50 }),
      fc.option(
        fc.integer({ min: -5000, max: 100_000_000 }).map((cents) => cents / 100),
        { nil: undefined },
      ),
      fc.boolean(),
    )
    .map(([hours, amount, isView]) => (isView ? view(hours) : order(hours, amount)))
  const withCut = fc
    .array(anEvent, { maxLength: 30 })
    .chain((events) =>
      fc.tuple(fc.constant(events), fc.shuffledSubarray(events, { minLength: events.length }), fc.nat(events.length)),
    )
  fc.assert(
    fc.property(withCut, ([events, shuffled, cut]) => {
      for (const metric of [orders, perView, { ...orders, kind: 'conversion' } as const]) {
        const whole = addEvents(metric, NOTHING, events, exposure(EXPOSED + 40 * HOUR))
        const first = addEvents(metric, NOTHING, shuffled.slice(0, cut), exposure(EXPOSED + 40 * HOUR))
        expect(addEvents(metric, first, shuffled.slice(cut), exposure(EXPOSED + 40 * HOUR))).toEqual(whole)
      }
    }),
  )
})

test('the same order counts once: the first time that it was told', () => {
  const [first, again, other] = [order(1, 30, { once: 'A' }), order(2, 30, { once: 'A' }), order(3, 30, { once: 'B' })]
  const plain = [order(1), order(1)]
  expect(firstOfEach([again, other, first, ...plain])).toEqual([other, first, ...plain])
  const same = order(1, 30, { once: 'A' })
  expect(firstOfEach([same, first])).toEqual([first])
})

describe('what whole visits add', () => {
  const visit = (hours: number, minutes: number, views: number) => ({
    startedAt: EXPOSED + hours * HOUR,
    endedAt: EXPOSED + hours * HOUR + minutes * 60_000,
    views,
  })
  /** One of the past, the exposing one, and two after it, of which the last is within two days of the end. */
  const visits = [visit(-72, 5, 3), visit(-0.1, 0, 1), visit(20, 10, 4), visit(50, 0, 1)]
  const of = (source: MetricSource, kind: MetricDefinition['kind'] = 'mean', until: number | null = null) =>
    withVisits({ kind, source }, { ...NOTHING, past: 0 }, visits, exposure(until))

  test('visits, those of one page, their length and coming back count from the exposing one on', () => {
    expect(of({ type: 'visits' })).toEqual({ value: 3, denominator: 0, past: 1 })
    expect(of({ type: 'bounces' })).toEqual({ value: 2, denominator: 0, past: 0 })
    expect(of({ type: 'visitTime' })).toEqual({ value: 600, denominator: 0, past: 300 })
    expect(of({ type: 'return', days: 1 }).value).toBe(1)
    expect(of({ type: 'return', days: 3 }, 'conversion').value).toBe(1)
    expect(of({ type: 'return', days: 3 }).value).toBe(2)
  })

  test('not what begins after the end', () => {
    expect(of({ type: 'visits' }, 'mean', EXPOSED + 30 * HOUR).value).toBe(2)
  })

  test('a ratio takes each side from where it is counted', () => {
    const pages: MetricDefinition = {
      kind: 'ratio',
      source: { type: 'visit', page: { match: 'begins', value: '/' } },
      denominator: { type: 'visits' },
    }
    const events = addEvents(pages, NOTHING, [view(1), view(2)], exposure(null))
    expect(withVisits(pages, events, visits, exposure(null))).toEqual({ value: 2, denominator: 3, past: null })
  })

  test('events are none of theirs', () => {
    expect(addEvents({ kind: 'mean', source: { type: 'visits' } }, NOTHING, [view(1)], exposure(null)).value).toBe(0)
  })
})

test('engagement that names no page is that with the tested ones', () => {
  const engaged: MetricDefinition = { kind: 'mean', source: { type: 'engagement' } }
  const click = (address: string, element: string) => event(1, { type: 'click', address, element })
  const events = [
    click('https://a.example/fares', 'main>a#book'),
    click('https://a.example/fares', 'main>h1'),
    click('https://a.example/other', 'main>a#book'),
    event(2, { type: 'submit', address: 'https://a.example/fares', element: 'form' }),
  ]
  const tested = { ...exposure(null), isTested: (address: string) => address.endsWith('/fares') }
  expect(addEvents(engaged, NOTHING, events, tested).value).toBe(2)
  expect(addEvents(engaged, NOTHING, events, exposure(null)).value).toBe(3)
  const elsewhere: MetricDefinition = {
    ...engaged,
    source: { type: 'engagement', page: { match: 'exact', value: '/other' } },
  }
  expect(addEvents(elsewhere, NOTHING, events, tested).value).toBe(1)
})

test('a cap holds what a visitor adds to the sums, and what is kept adds up beyond it', () => {
  const numbers = { value: 900, denominator: 3, past: 40 }
  expect(cappedNumbers(numbers, 500)).toEqual({ value: 500, denominator: 3, past: 40 })
  expect(cappedNumbers(numbers, 30)).toEqual({ value: 30, denominator: 3, past: 30 })
  expect(cappedNumbers(numbers, null)).toEqual(numbers)
})
