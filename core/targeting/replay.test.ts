import { expect, test } from 'vitest'
import type { Group } from './condition'
import { replayVisitor, unknownFromPast, type Past, type PastView } from './replay'
import { HOUR } from '../time/units'

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
