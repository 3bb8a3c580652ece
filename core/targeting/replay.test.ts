import fc from 'fast-check'
import { expect, test } from 'vitest'
import type { FactTest, Group } from './condition'
import { factOf } from './factOf'
import { factsAlong, replayVisitor, unknownFromPast, type Past, type PastView } from './replay'
import { DAY, HOUR } from '../time/units'

const view = (hours: number, path: string, session: string, isTested: boolean): PastView => ({
  id: `${hours}`,
  session,
  at: hours * HOUR,
  address: `https://kc.test${path}`,
  isTested,
  facts: { device: 'phone', visits: session === 'first' ? 1 : 2, referrer: session === 'first' ? 'mail.example' : '' },
})
const past: Past = {
  views: [
    view(1, '/?utm_campaign=spring', 'first', false),
    view(2, '/tested', 'first', true),
    view(50, '/tested', 'second', true),
  ],
  events: [{ name: 'order', at: 3 * HOUR }],
  siteTimeZone: 'UTC',
}
const all = (...of: Group['of']): Group => ({ join: 'all', of })

test('a visitor enters on the first view of the pages on which all that is asked for holds', () => {
  const at = (audience: Group) => replayVisitor(audience, past).entered?.at
  expect(at(all({ fact: 'device', is: 'oneOf', texts: ['phone'] }))).toBe(2 * HOUR)
  expect(at(all({ fact: 'campaign', is: 'oneOf', texts: ['spring'] }))).toBe(2 * HOUR)
  expect(at(all({ fact: 'visitor', is: 'oneOf', texts: ['returning'] }))).toBe(50 * HOUR)
  expect(at(all({ fact: 'did', name: 'order', is: 'least', number: 1 }))).toBe(50 * HOUR)
  expect(at(all({ fact: 'seen', page: { match: 'exact', value: '/tested' }, is: 'least', number: 1 }))).toBe(50 * HOUR)
  expect(at(all({ fact: 'referrer', is: 'oneOf', texts: [''] }))).toBe(50 * HOUR)
  expect(at(all({ fact: 'daysSinceFirst', is: 'least', number: 2 }))).toBe(50 * HOUR)
})

test('of whom it lets in nobody, it is told which conditions kept them out', () => {
  const audience = all(
    { fact: 'device', is: 'oneOf', texts: ['phone'] },
    { fact: 'country', is: 'oneOf', texts: ['IE'] },
    { join: 'none', of: [{ fact: 'campaign', is: 'known' }] },
  )
  expect(replayVisitor(audience, past)).toEqual({ entered: null, failing: [1, 2] })
  const none: Group = { join: 'none', of: audience.of.slice(0, 2) }
  expect(replayVisitor(none, past).failing).toEqual([0])
})

test('what only the open page knows cannot be known from the past', () => {
  const plan = { fact: 'attribute', name: 'plan', is: 'known' } as const
  expect(unknownFromPast(all(plan, plan, { fact: 'device', is: 'oneOf', texts: [] }))).toEqual(['attribute'])
})

test('what was done before is counted as a browser counts it, whatever is asked in which order', () => {
  const moment = fc.integer({ min: 0, max: 60 }).map((days) => days * DAY)
  const address = fc.constantFrom('/a', '/b', '/tested').map((path) => `https://kc.test${path}`)
  const days = fc.option(fc.integer({ min: 0, max: 40 }), { nil: undefined })
  const tests = fc.constantFrom<(days?: number) => FactTest>(
    (within) => ({ fact: 'seen', page: { match: 'exact', value: '/a' }, is: 'least', days: within }),
    (within) => ({ fact: 'did', name: 'order', is: 'least', days: within }),
  )
  fc.assert(
    fc.property(
      fc.array(fc.tuple(moment, address), { minLength: 1, maxLength: 30 }),
      fc.array(fc.tuple(moment, fc.constantFrom('order', 'other')), { maxLength: 30 }),
      fc.array(fc.tuple(tests, days), { minLength: 1, maxLength: 3 }),
      fc.array(fc.nat(29), { maxLength: 10 }),
      (seen, done, asked, order) => {
        const views = seen
          .sort(([one], [other]) => one - other)
          .map(([at, of], index) => ({ ...view(0, '', 'first', true), id: `${index}`, at, address: of }))
        const events = done.sort(([one], [other]) => one - other).map(([at, name]) => ({ at, name }))
        const long: Past = { views, events, siteTimeZone: 'UTC' }
        const of = asked.map(([make, within]) => make(within))
        const inOrder = [...views, ...order.flatMap((index) => views[index] ?? [])]
        const factsAt = factsAlong(long)
        for (const each of inOrder) {
          const { timesDone: _, ...facts } = factsAt(each)
          const before = ({ at }: { at: number }) => at < each.at
          const slow = { ...facts, pages: views.filter(before), events: events.filter(before) }
          for (const test of of) expect(factOf(test, factsAt(each))).toBe(factOf(test, slow))
        }
      },
    ),
  )
})

test('a visitor with many views costs what the views cost, and not their square', () => {
  let asked = 0
  const many = (count: number): Past => ({
    views: Array.from({ length: count }, (_, index) => ({
      ...view(index / 1000, '/tested', 'first', true),
      get address() {
        asked++
        return 'https://kc.test/tested'
      },
    })),
    events: [],
    siteTimeZone: 'UTC',
  })
  const audience = all({ fact: 'seen', page: { match: 'exact', value: '/other' }, is: 'least', number: 1 })
  const reads = (count: number) => {
    asked = 0
    replayVisitor(audience, many(count))
    return asked
  }
  expect(reads(4000) / reads(1000)).toBeLessThan(4.1)
})
