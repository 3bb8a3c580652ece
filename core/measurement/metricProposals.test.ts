import { expect, test } from 'vitest'
import { metricProposals, type ArrivedKinds } from './metricProposals'

const ARRIVED: ArrivedKinds = {
  events: [
    { name: 'order', visitors: 900, hasAmounts: true },
    { name: 'rare', visitors: 9, hasAmounts: false },
  ],
  amounts: [{ selector: '#total', page: '/book/done', visitors: 800 }],
  forms: [{ selector: '#finder', visitors: 400 }],
  pages: [
    { path: '/', visitors: 5000 },
    { path: '/abandoned', visitors: 300 },
    { path: '/book/done', visitors: 800 },
    { path: '/newsletter/thank-you.html', visitors: 60 },
  ],
}
const names = (known: Parameters<typeof metricProposals>[1] = [], arrived = ARRIVED) =>
  metricProposals(arrived, known).map(({ name, kind }) => `${kind}: ${name}`)

test('pages that follow something done, amounts, events and forms become metrics, with why', () => {
  expect(names()).toEqual([
    'conversion: Reached /book/done',
    'conversion: Reached /newsletter/thank-you.html',
    'mean: Amount in #total',
    'conversion: Did “order”',
    'mean: Amount of “order”',
    'conversion: Sent #finder',
    'conversion: Engagement',
    'ratio: Bounce rate',
    'ratio: Pages a visit',
    'mean: Time in view',
    'ratio: How long a visit lasts',
    'conversion: Came back within 7 days',
    'conversion: Sent a form',
    'mean: Errors of pages',
  ])
  expect(metricProposals(ARRIVED, [])[3]!.reason).toBe('The pages sent “order” of 900 visitors.')
})

test('what the site measures already is not proposed again, whatever its order number', () => {
  const page = { match: 'exact', value: '/book/done' } as const
  const known = [
    { kind: 'conversion', source: { type: 'visit', page } },
    { kind: 'mean', source: { type: 'pageAmount', page, selector: '#total', reference: { parameter: 'ref' } } },
    { kind: 'mean', source: { type: 'event', name: 'order' }, denominator: null, cap: 500 },
    { kind: 'conversion', source: { type: 'return', days: 30 } },
  ] as const
  const left = names(known)
  expect(left).toContain('conversion: Did “order”')
  expect(left).toContain('conversion: Came back within 7 days')
  for (const gone of ['conversion: Reached /book/done', 'mean: Amount in #total', 'mean: Amount of “order”'])
    expect(left).not.toContain(gone)
})

test('a site that nothing arrives at has the ready-made ones', () => {
  expect(names([], { events: [], amounts: [], forms: [], pages: [] })).toHaveLength(8)
})
