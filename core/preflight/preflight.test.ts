import { expect, test } from 'vitest'
import { preflight, type PreflightInput } from './preflight'

const edit = { kind: 'text', selector: 'h1', original: 'Old', value: 'New' } as const
const sound: PreflightInput = {
  siteAddress: 'https://a.test',
  pageRules: [{ match: 'exact', value: '/' }],
  share: 10_000,
  variants: [
    { name: 'Control', weight: 1, edits: [] },
    { name: 'B', weight: 1, edits: [edit] },
  ],
  metrics: [
    {
      name: 'Orders',
      role: 'primary',
      kind: 'conversion',
      source: { type: 'visit', page: { match: 'exact', value: '/done' } },
    },
  ],
  plan: {
    smallestLift: 0.05,
    alpha: 0.05,
    rule: 'sequential',
    lossLimit: 0.005,
    leastWeeks: 2,
    longestWeeks: 6,
  },
  isInstalled: true,
  allowsScripts: true,
}

test('a sound experiment may start', () => {
  expect(preflight(sound)).toEqual([])
})

test.each<[string, Partial<PreflightInput>, string, RegExp]>([
  ['no second arm', { variants: sound.variants.slice(0, 1) }, 'what', /Add a variant/],
  [
    'an edited control',
    { variants: [{ ...sound.variants[0]!, edits: [edit] }, sound.variants[1]!] },
    'what',
    /page as it is/,
  ],
  [
    'a variant without edits',
    { variants: [sound.variants[0]!, { ...sound.variants[1]!, edits: [] }] },
    'what',
    /changes nothing/,
  ],
  [
    'an empty text',
    { variants: [sound.variants[0]!, { ...sound.variants[1]!, edits: [{ ...edit, value: '' }] }] },
    'what',
    /empty/,
  ],
  [
    'two names alike',
    { variants: [sound.variants[0]!, { ...sound.variants[1]!, name: 'control ' }] },
    'what',
    /same name/,
  ],
  ['no page', { pageRules: [] }, 'who', /Name the page/],
  ['no traffic', { share: 0 }, 'who', /above 0 %/],
  ['a weight of zero', { variants: [sound.variants[0]!, { ...sound.variants[1]!, weight: 0 }] }, 'who', /weight/],
  ['no report yet', { isInstalled: false }, 'who', /script line/],
  ['no metric', { metrics: [] }, 'measured', /Choose the metric/],
  [
    'a metric on the tested page',
    {
      metrics: [
        {
          name: 'Orders',
          role: 'primary',
          kind: 'conversion',
          source: { type: 'visit', page: { match: 'exact', value: '/' } },
        },
      ],
    },
    'measured',
    /tested page itself/,
  ],
  [
    'a second metric on the tested page',
    {
      metrics: [
        {
          name: 'Orders',
          role: 'primary',
          kind: 'conversion',
          source: { type: 'visit', page: { match: 'exact', value: '/done' } },
        },
        {
          name: 'Seen',
          role: 'secondary',
          kind: 'conversion',
          source: { type: 'visit', page: { match: 'exact', value: '/' } },
        },
      ],
    },
    'measured',
    /“Seen” counts visits of the tested page/,
  ],
  [
    'two metrics of one name',
    {
      metrics: [
        {
          name: 'Orders',
          role: 'primary',
          kind: 'conversion',
          source: { type: 'visit', page: { match: 'exact', value: '/done' } },
        },
        { name: 'orders ', role: 'secondary', kind: 'mean', source: { type: 'event', name: 'order' } },
      ],
    },
    'measured',
    /same name/,
  ],
  [
    'the same broad rule',
    {
      pageRules: [{ match: 'begins', value: '/b' }],
      metrics: [
        {
          name: 'Orders',
          role: 'primary',
          kind: 'conversion',
          source: { type: 'visit', page: { match: 'begins', value: '/b' } },
        },
      ],
    },
    'measured',
    /tested page itself/,
  ],
  ['runs the wrong way round', { plan: { ...sound.plan, longestWeeks: 1 } }, 'decided', /shorter/],
])('%s', (_name, changes, section, text) => {
  expect(preflight({ ...sound, ...changes })).toEqual([{ section, isStop: true, text: expect.stringMatching(text) }])
})
