import { describe, expect, test } from 'vitest'
import { ValidationError } from 'yup'
import { primaryMetric } from '../../tests/metrics'
import { newExperimentSchema } from './experimentList'
import { sheetContentSchema } from './experiment'
import { drawThingId } from '../thingId'

const BOOKED = { type: 'visit', page: { match: 'exact', value: '/book/done' } } as const
const PLAN = {
  smallestLift: 0.05,
  baseline: 0.05,
  alpha: 0.05,
  rule: 'sequential',
  lossLimit: 0.005,
  leastWeeks: 2,
  longestWeeks: 6,
  plannedVisitors: 20_000,
}
const metric = primaryMetric('Bookings', 'conversion', BOOKED)

/** Things of a list, each with an id. */
const withIds = (value: unknown) =>
  Array.isArray(value) ? value.map((item: object) => ({ id: drawThingId(), ...item })) : value

/** The messages of parts of a sheet by their fields. */
async function problems(patch: object): Promise<Record<string, string>> {
  try {
    const parts = Object.fromEntries(Object.entries(patch).map(([part, value]) => [part, withIds(value)]))
    await sheetContentSchema.pick(Object.keys(parts) as 'name'[]).validate(parts, { abortEarly: false })
    return {}
  } catch (error) {
    if (!(error instanceof ValidationError)) throw error
    return Object.fromEntries(error.inner.map((each) => [each.path ?? '', each.message]))
  }
}

describe('a metric', () => {
  test.each<[string, object, Record<string, unknown>]>([
    [
      'of every source',
      {
        metrics: [
          metric,
          { ...metric, name: 'b', role: 'secondary', source: { type: 'click', selector: '#a' } },
          {
            ...metric,
            name: 'c',
            role: 'secondary',
            source: { type: 'pageAmount', page: BOOKED.page, selector: '#a' },
          },
          { ...metric, name: 'd', role: 'secondary', source: { type: 'event', name: 'order' } },
        ],
      },
      {},
    ],
    ['a ratio with both parts', { metrics: [{ ...metric, kind: 'ratio', denominator: BOOKED }] }, {}],
    [
      'a ratio without a denominator',
      { metrics: [{ ...metric, kind: 'ratio' }] },
      { 'metrics[0].denominator': expect.stringContaining('divided by') },
    ],
    [
      'a denominator with an empty address',
      { metrics: [{ ...metric, kind: 'ratio', denominator: { type: 'visit', page: { match: 'exact', value: '' } } }] },
      { 'metrics[0].denominator.page.value': expect.stringMatching(/slash|address/) },
    ],
    ['a guardrail with its limit', { metrics: [metric, { ...metric, role: 'guardrail', limit: 0.1 }] }, {}],
    [
      'a guardrail without a limit',
      { metrics: [metric, { ...metric, role: 'guardrail' }] },
      { 'metrics[1].limit': expect.stringContaining('percent') },
    ],
    [
      'a guardrail with a limit of 100 %',
      { metrics: [metric, { ...metric, role: 'guardrail', limit: 1 }] },
      { 'metrics[1].limit': expect.stringContaining('below 100 %') },
    ],
    ['no primary one yet', { metrics: [{ ...metric, role: 'secondary' }] }, {}],
    ['two primary ones', { metrics: [metric, metric] }, { metrics: expect.stringContaining('At most one') }],
    [
      'a primary one that is not the first',
      { metrics: [{ ...metric, role: 'secondary' }, metric] },
      { metrics: expect.stringContaining('comes first') },
    ],
    ['none at all', { metrics: [] }, {}],
    [
      'too many',
      { metrics: [metric, ...Array.from({ length: 20 }, () => ({ ...metric, role: 'secondary' }))] },
      { metrics: expect.stringContaining('At most 20') },
    ],
    ['no name', { metrics: [{ ...metric, name: '  ' }] }, { 'metrics[0].name': 'Give the metric a name.' }],
    [
      'a source that is not one',
      { metrics: [{ ...metric, source: null }] },
      { 'metrics[0].source': 'Choose what is counted.' },
    ],
    [
      'a kind that is not one',
      { metrics: [{ ...metric, kind: 'median' }] },
      { 'metrics[0].kind': expect.stringContaining('one of') },
    ],
  ])('%s', async (_, patch, expected) => expect(await problems(patch)).toEqual(expected))
})

describe('a plan', () => {
  test.each<[string, object, Record<string, unknown>]>([
    ['as it should be', PLAN, {}],
    ['with mean and deviation', { ...PLAN, mean: 14, deviation: 30 }, {}],
    ['with a deviation of zero', { ...PLAN, deviation: 0 }, { 'plan.deviation': expect.stringContaining('above 0') }],
    ['with a mean of zero', { ...PLAN, mean: 0 }, { 'plan.mean': expect.stringContaining('not 0') }],
    [
      'with text for a number',
      { ...PLAN, smallestLift: 'much' },
      { 'plan.smallestLift': 'Type the smallest worthwhile lift in percent.' },
    ],
    [
      'with half a visitor',
      { ...PLAN, plannedVisitors: 20.5 },
      { 'plan.plannedVisitors': expect.stringContaining('whole number') },
    ],
    ['with an error level of one', { ...PLAN, alpha: 1 }, { 'plan.alpha': expect.stringContaining('between 0 and 1') }],
    ['of 53 weeks', { ...PLAN, longestWeeks: 53 }, { 'plan.longestWeeks': expect.stringContaining('52 weeks') }],
  ])('%s', async (_, plan, expected) => expect(await problems({ plan })).toEqual(expected))
})

describe('the rest of a sheet', () => {
  const edit = { id: 'edit-0001', kind: 'text', selector: 'h1', original: 'Old', value: 'New' }
  test.each<[string, object, Record<string, unknown>]>([
    [
      'variants with edits',
      {
        variants: [
          { name: 'Control', weight: 1, edits: [] },
          { name: 'B', weight: 3, edits: [edit] },
        ],
      },
      {},
    ],
    [
      'a weight of one half',
      { variants: [{ name: 'A', weight: 0.5, edits: [] }] },
      { 'variants[0].weight': expect.stringContaining('whole number') },
    ],
    [
      'an edit of a kind that there is not',
      { variants: [{ name: 'A', weight: 1, edits: [{ ...edit, kind: 'program' }] }] },
      { 'variants[0].edits[0].kind': expect.stringContaining('one of') },
    ],
    [
      'HTML that would run a script',
      { variants: [{ name: 'A', weight: 1, edits: [{ ...edit, kind: 'html', value: '<b onclick="go()">x</b>' }] }] },
      { 'variants[0].edits[0].kind': expect.stringContaining('run a script') },
    ],
    [
      'an edit of nothing',
      { variants: [{ name: 'A', weight: 1, edits: [{ ...edit, selector: '' }] }] },
      { 'variants[0].edits[0].selector': expect.stringContaining('Name an element') },
    ],
    [
      'eleven variants',
      { variants: Array.from({ length: 11 }, (_, index) => ({ name: `V${index}`, weight: 1, edits: [] })) },
      { variants: 'At most 10 variants.' },
    ],
    [
      'an address without a slash',
      { pageRules: [{ match: 'begins', value: 'crossings' }] },
      { 'pageRules[0].value': expect.stringContaining('slash') },
    ],
    ['a part of an address without one', { pageRules: [{ match: 'contains', value: 'crossings' }] }, {}],
    ['a share above everybody', { share: 10_001 }, { share: 'The traffic share is at most 100 %.' }],
  ])('%s', async (_, patch, expected) => expect(await problems(patch)).toEqual(expected))

  test('a new experiment has a name, trimmed, and is a test unless it is to serve', async () => {
    expect(await newExperimentSchema.validate({ name: '  Headline ' })).toEqual({ name: 'Headline', purpose: 'test' })
    await expect(newExperimentSchema.validate({ name: ' ' })).rejects.toThrow('Give it a name.')
    await expect(newExperimentSchema.validate({ name: 'A', purpose: 'sell' })).rejects.toThrow('no such purpose')
  })
})
