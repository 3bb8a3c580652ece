import { expect, test } from 'vitest'
import { rolloutFindings, trafficFindings, unkeptDetailFindings } from './trafficFindings'
import { triedElementFindings, triedMetricFindings, type TriedPage } from './triedElements'

const edit = { id: 'edit-0001', kind: 'text', selector: 'h1', original: 'Three islands', value: 'Sail' } as const
const variants = [{ name: 'Warm', edits: [edit] }]
const page = (path: string, matches: number | null, text: string | null = 'Three  islands '): TriedPage => ({
  path,
  problem: null,
  found: [{ selector: 'h1', matches, text }],
})

test.each<[string, TriedPage[], RegExp | null]>([
  ['an element that is there once, with its text', [page('/', 1), page('/b', 1)], null],
  ['a selector that only browsers read', [page('/', null, null)], null],
  ['an element that is on no page', [page('/', 0, null)], /^Warm: h1 is not on \/, as the page is served/],
  ['one that is on some pages only', [page('/', 1), page('/b', 0, null)], /not on \/b, though it is elsewhere/],
  ['one that is there three times', [page('/', 3)], /finds 3 elements on \/, and only the first is changed/],
  [
    'another element elsewhere',
    [page('/', 1), page('/b', 1, 'Help')],
    /on \/b, h1 says “Help” and not “Three islands”/,
  ],
  [
    'a page that cannot be fetched',
    [{ path: '/', problem: 'It did not answer.', found: [] }],
    /could not be looked at: It did not answer/,
  ],
])('%s', (_, pages, expected) => {
  const found = triedElementFindings(variants, pages, new Set(['#other']))
  expect(found.map(({ isStop }) => isStop)).toEqual(expected ? [false] : [])
  if (expected) expect(found[0]!.text).toMatch(expected)
})

test('an element that visitors clicked is there, though the page is served without it', () => {
  expect(triedElementFindings(variants, [page('/', 0, null)], new Set(['h1']))).toEqual([])
})

test('a metric whose element nobody clicked, and that is on none of the visited pages, is told', () => {
  const metric = { name: 'Orders', selector: 'h1', hasCounted: false }
  const text = /“Orders”: h1 is on none of the most visited pages, as they are served: \/, \/b/
  expect(triedMetricFindings([metric], [page('/', 0), page('/b', 0)])).toMatchObject([
    { section: 'measured', isStop: false, text: expect.stringMatching(text) },
  ])
  expect(triedMetricFindings([metric], [page('/', 0), page('/b', 1)])).toEqual([])
  expect(triedMetricFindings([{ ...metric, hasCounted: true }], [page('/', 0)])).toEqual([])
  expect(triedMetricFindings([metric], [page('/', null)])).toEqual([])
})

const beside = {
  name: 'Other',
  variants: [{ edits: [{ ...edit, id: 'edit-0002' }] }],
  sharedVisitors: 1200,
  sharesPage: true,
}
test('a metric that asks for what the site does not keep is told, on either side of a ratio', () => {
  const asks = (name: string) => ({ type: 'event', name: 'order', detail: { name, is: 'known' } }) as const
  const order = { type: 'event', name: 'order' } as const
  const metrics = [
    { name: 'Kept', source: asks('vehicle') },
    { name: 'Not kept', source: asks('seats') },
    { name: 'Ratio', source: order, denominator: asks('seats') },
    { name: 'Plain', source: order, denominator: null },
  ]
  expect(unkeptDetailFindings(metrics, ['vehicle']).map(({ text, isStop }) => [text.slice(0, 12), isStop])).toEqual([
    ['“Not kept” a', false],
    ['“Ratio” asks', false],
  ])
})
test('an element that is changed for everybody already is told, and stops nothing', () => {
  const served = (selector: string) => [{ name: 'Won', edits: [{ ...edit, id: 'edit-0003', selector }] }]
  expect(rolloutFindings(variants, served('#elsewhere'))).toEqual([])
  expect(rolloutFindings(variants, served(edit.selector))).toEqual([
    {
      section: 'what',
      isStop: false,
      text: expect.stringMatching(/“Won” is served .* changes the same element, h1/),
    },
  ])
})
test.each<[string, Parameters<typeof trafficFindings>, [boolean, RegExp][]]>([
  ['traffic that counts', [5000, [{ name: 'Bookings', visitors: 4000, counted: 90 }], variants, []], []],
  ['no traffic', [0, [], variants, []], [[false, /No visitor saw these pages/]]],
  [
    'a metric that counted nothing',
    [5000, [{ name: 'Bookings', visitors: 4000, counted: 0 }], variants, []],
    [[false, /“Bookings” counted nothing of 4,000 visitors/]],
  ],
  [
    'another that changes the same element',
    [5000, [], variants, [beside]],
    [[true, /“Other” is running and changes the same element, h1; 1,200 visitors/]],
  ],
  [
    'another that changes something else',
    [5000, [], variants, [{ ...beside, variants: [{ edits: [] }] }]],
    [[false, /also take part in “Other” \(1,200\)/]],
  ],
  [
    'another that changes an element of the same name on another page',
    [5000, [], variants, [{ ...beside, sharesPage: false }]],
    [[false, /also take part in “Other” \(1,200\)/]],
  ],
  ['another whose visitors do not come here', [5000, [], variants, [{ ...beside, sharedVisitors: 0 }]], []],
])('%s is told', (_, input, expected) => {
  const found = trafficFindings(...input)
  expect(found.map(({ isStop }) => isStop)).toEqual(expected.map(([isStop]) => isStop))
  found.forEach(({ text }, index) => expect(text).toMatch(expected[index]![1]))
})
