import { expect, test } from 'vitest'
import { guessMapping, readRow, type KnownNames } from './hypothesisTable'

const KNOWN: KnownNames = {
  metrics: [{ id: 'metric-book', name: 'Bookings' }],
  people: [{ id: 7, name: 'Mara Quill' }],
}
const read = (row: Record<string, string>) => readRow(Object.values(row), guessMapping(Object.keys(row)), KNOWN)

test('columns are known by their headings, those of an export before words that mean nearly the same', () => {
  const mapping = guessMapping(['Idea', 'Why?', 'URL', 'Lift', 'Likely lift %', 'Notes', 'Title'])
  expect(mapping).toMatchObject({ title: 6, reason: 1, pages: 2, likely: 4, change: null, low: null })
  expect(guessMapping(['', 'Name', 'name'])).toMatchObject({ title: 1 })
})

test('a row becomes a hypothesis: percent, addresses, names and lists as people write them', () => {
  expect(
    read({
      Title: 'Sizes',
      Page: '/crossings/*',
      Metric: 'bookings',
      Low: "'-2 %",
      Likely: '5',
      High: '12,5',

      Effort: '2,5',
      Evidence: 'Strong',
      Tags: 'Booking; phone',
      Owner: 'mara quill',
      Status: 'Worth testing',
    }),
  ).toEqual({
    input: expect.objectContaining({
      title: 'Sizes',
      pages: 'begins:/crossings/',
      metric: 'metric-book',
      low: -0.02,
      likely: 0.05,
      high: 0.125,

      effortDays: 2.5,
      strength: 'strong',
      tags: ['booking', 'phone'],
      owner: 7,
      stage: 'worth testing',
    }),
  })
  for (const [text, pages] of [
    ['/book', 'is:/book'],
    ['is:/book', 'is:/book'],
    ['torrin', 'contains:torrin'],
    ['', null],
  ] as const)
    expect(read({ Title: 'Any', Pages: text })).toMatchObject({ input: { pages } })
})

test('a bad row says everything that is wrong with it', () => {
  const bad = read({
    Title: '',
    Metric: 'Sales',
    Owner: 'Nobody',
    Low: '9',
    Likely: '5',
    High: '1',
    Effort: 'x',
    Stage: 'done',
  })
  expect(bad).toEqual({
    problems: expect.arrayContaining([
      expect.stringMatching(/no metric “Sales”/),
      expect.stringMatching(/no member “Nobody”/),
      expect.stringMatching(/Say in a line/),
      expect.stringMatching(/effort in days/),
      expect.stringMatching(/^Stages are/),
    ]),
  })
  expect(read({ Title: 'Any', Low: '9', Likely: '5', High: '1' })).toEqual({
    problems: [expect.stringMatching(/Swap them/)],
  })
})
