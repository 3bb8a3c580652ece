import { expect, test } from 'vitest'
import { DAY } from '../time/units'
import type { MeasuredEvent, MetricDefinition } from './metric'
import { valuesSince } from './valuesSince'

const AT = Date.UTC(2026, 2, 1)
const PERIODS = [
  { from: 0, until: 1 },
  { from: 1, until: 7 },
]
const exposure = { at: AT, view: 'v0', until: null }
const of = (source: MetricDefinition['source'], kind: MetricDefinition['kind']) =>
  ({ kind, source, windowDays: null, cap: null }) as unknown as MetricDefinition
const order = (days: number, amount: number): MeasuredEvent => ({
  id: `e${days}`,
  at: AT + days * DAY,
  view: 'v1',
  type: 'custom',
  name: 'order',
  address: '/',
  amount,
})

test('each period counts what happened in it, and a conversion once', () => {
  const events = [order(-1, 100), order(0.1, 5), order(0.2, 7), order(2, 11), order(6.99, 13), order(7, 17)]
  expect(valuesSince(of({ type: 'event', name: 'order' }, 'mean'), events, [], exposure, PERIODS)).toEqual([12, 24])
  expect(valuesSince(of({ type: 'event', name: 'order' }, 'conversion'), events, [], exposure, PERIODS)).toEqual([1, 1])
})

test('the page of the exposure and its visit belong to the first day, though they began before', () => {
  const page: MeasuredEvent = { id: 'p', at: AT - 1000, view: 'v0', type: 'page', address: 'https://site.example/' }
  const seen = of({ type: 'visit', page: { match: 'exact', value: '/' } }, 'mean')
  expect(valuesSince(seen, [page], [], exposure, PERIODS)).toEqual([1, 0])
  const visits = [
    { startedAt: AT - 60_000, endedAt: AT + 60_000, views: 3 },
    { startedAt: AT + 3 * DAY, endedAt: AT + 3 * DAY + 5000, views: 2 },
  ]
  expect(valuesSince(of({ type: 'visits' }, 'mean'), [], visits, exposure, PERIODS)).toEqual([1, 1])
})
