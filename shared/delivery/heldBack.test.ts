import { expect, test } from 'vitest'
import type { DeliveredEdit } from '../../core/edits/content'
import { heldBack } from './heldBack'
import type { AnySiteFileEntry, SiteFileExperiment } from './siteFile'

const text = (selector: string): DeliveredEdit => ({ kind: 'text', selector, value: 'New' })
const css: DeliveredEdit = { kind: 'css', value: 'h1 { color: red }' }
const experiment = (
  path: string,
  edits: DeliveredEdit[],
  more: Partial<SiteFileExperiment> = {},
): AnySiteFileEntry => ({
  kind: 'experiment',
  id: 1,
  salt: 's',
  share: 10_000,
  weights: [1, 1],
  audience: null,
  group: null,
  pages: [{ match: 'exact', value: path }],
  edits: [[], edits],
  ...more,
})
const selectorsOf = (...entries: AnySiteFileEntry[]) => heldBack(entries).map(([, selectors]) => selectors)

test('elements are held back that any variant changes where it stands, and the whole page where a change moves others', () => {
  expect(selectorsOf(experiment('/', [text('h1'), text('.lead')]))).toEqual(['h1,.lead'])
  expect(selectorsOf(experiment('/', [text('h1'), css]))).toEqual(['html'])
  expect(selectorsOf(experiment('/', [{ kind: 'remove', selector: '.promo' }]))).toEqual(['html'])
  const many = Array.from({ length: 30 }, (_, index) => text(`#e${index}`))
  expect(selectorsOf(experiment('/', many))).toEqual(['html'])
})

test('what several experiments change on the same pages is held back together, each page by itself', () => {
  const held = heldBack([
    experiment('/', [text('h1')]),
    experiment('/', [text('h2')]),
    experiment('/book', [text('h3')]),
  ])
  expect(held.map(([, selectors]) => selectors)).toEqual(['h1,h2', 'h3'])
  const at = (address: string) => held.flatMap(([pattern, of]) => (new RegExp(pattern).test(address) ? [of] : []))
  expect(at('https://a.test/')).toEqual(['h1,h2'])
  expect(at('https://a.test/book?day=1')).toEqual(['h3'])
  expect(at('https://a.test/passes')).toEqual([])
})

test('nothing is held back for what changes nothing, waits for something, or only records', () => {
  const activation: SiteFileExperiment['activation'] = { on: 'event', name: 'opened' }
  const recording: AnySiteFileEntry = {
    kind: 'recording',
    id: 1,
    salt: 's',
    share: 1,
    pages: [],
    audience: null,
    masksText: true,
  }
  expect(selectorsOf(experiment('/', []), experiment('/', [text('h1')], { activation }), recording)).toEqual([])
})
