import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { amountsOf, inOtherMoney, withEarlierTelling } from './keptAmounts'
import type { MeasuredEvent, MetricDefinition } from './metric'
import { inOwnCurrency, type Money } from './money'
import { addEvents, NOTHING } from './visitorNumbers'
import { HOUR } from '../time/units'

const EXPOSED = Date.UTC(2026, 5, 1)
const exposure = { at: EXPOSED, view: 'exposing', until: EXPOSED + 60 * HOUR }
const order = { type: 'event', name: 'order' } as const
const refund = { type: 'event', name: 'refund' } as const
const metrics: MetricDefinition[] = [
  { kind: 'mean', source: order },
  { kind: 'ratio', source: order, denominator: refund },
  { kind: 'conversion', source: order },
  { kind: 'mean', source: { type: 'visit', page: { match: 'exact', value: '/' } } },
]
const monies: Money[] = ['EUR', 'JPY', 'GBP'].map((currency, index) => ({
  currency,
  rates: ['EUR', 'JPY', 'GBP', 'USD']
    .filter((each) => each !== currency && each !== 'USD')
    .flatMap((each, place) => [
      { currency: each, from: '2026-01-01', rate: [0.83, 161.257, 1.1][(index + place) % 3]! },
      { currency: each, from: '2026-06-02', rate: [0.85, 158.4, 1.13][(index + place) % 3]! },
    ]),
}))
const convertIn = (money: Money) => (told: { amount: number; currency: string; at: number }) =>
  inOwnCurrency(money, told.amount, told.currency, new Date(told.at).toISOString().slice(0, 10))

/** What an event is where a site counts in some money. */
function counted(event: MeasuredEvent, money: Money): MeasuredEvent {
  if (!event.told) return event
  const amount = convertIn(money)({ ...event.told, at: event.at })
  return { ...event, amount, isUnconverted: amount === null }
}

const anEvent = fc
  .record({
    hours: fc.integer({ min: -500, max: 80 }),
    name: fc.constantFrom('order', 'refund', 'other'),
    cents: fc.option(fc.integer({ min: -90_000, max: 900_000 })),
    currency: fc.constantFrom('EUR', 'JPY', 'GBP', 'USD'),
  })
  .map(({ hours, name, cents, currency }): MeasuredEvent => ({
    id: `e${hours}`,
    view: 'other',
    type: 'custom',
    address: 'https://a.example/',
    name,
    at: EXPOSED + hours * HOUR,
    told: cents === null ? null : { amount: cents / 100, currency },
  }))

describe('amounts are kept with the numbers that they are in', () => {
  test('so numbers in other money, and back, are those that the events themselves would give', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...metrics),
        fc.array(anEvent, { maxLength: 20 }),
        fc.array(fc.constantFrom(...monies), { minLength: 2, maxLength: 5 }),
        (metric, events, [first, ...others]) => {
          const inMoney = (money: Money) => {
            const own = events.map((event) => counted(event, money))
            return { numbers: addEvents(metric, NOTHING, own, exposure), amounts: amountsOf(metric, own, exposure) }
          }
          let now = inMoney(first!)
          for (const money of others) {
            now = inOtherMoney(now, convertIn(money)) as typeof now
            expect(now).toEqual(inMoney(money))
          }
        },
      ),
    )
  })
})

test.each(metrics.slice(0, 3))(
  'an order that was told earlier stands in the place of the later one: $kind',
  (metric) => {
    const euros = monies[0]!
    const told = (hours: number, amount: number, currency: string) =>
      counted(
        {
          id: `e${hours}`,
          view: 'other',
          type: 'custom',
          address: 'https://a.example/',
          name: 'order',
          at: EXPOSED + hours * HOUR,
          told: { amount, currency },
        },
        euros,
      )
    const [other, gone, come] = [told(1, 5, 'EUR'), told(9, 40, 'GBP'), told(3, 30, 'EUR')] as const
    const of = (events: MeasuredEvent[]) => ({
      numbers: addEvents(metric, NOTHING, events, exposure),
      amounts: amountsOf(metric, events, exposure),
    })
    expect(withEarlierTelling(metric, of([other, gone]), gone, come, exposure)).toEqual(of([other, come]))
  },
)
