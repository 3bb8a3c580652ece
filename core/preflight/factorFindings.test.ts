import { expect, test } from 'vitest'
import type { Edit, EditContent } from '../edits/content'
import { allCombinations } from '../factors/combinations'
import type { SheetFactor } from '../sheet/content'
import { changedLevels, factorFindings } from './factorFindings'

let drawn = 0
const text = (selector: string): EditContent => ({ kind: 'text', selector, original: 'Old', value: 'New' })
const factor = (name: string, ...levels: EditContent[][]): SheetFactor => ({
  id: `factor-${name}`,
  name,
  levels: [[], ...levels].map((edits, place) => ({
    id: `${name}-${place}`,
    name: place === 0 ? 'As it is' : `Level ${place}`,
    edits: edits.map((edit) => ({ ...edit, id: `edit-${++drawn}` }) as Edit),
  })),
})
const headline = factor('Headline', [text('h1')])
const button = factor('Button', [text('#find')])
const textsOf = (factors: SheetFactor[], off: { id: string }[] = []) =>
  factorFindings(factors, off).map(({ text: said, isStop }) => `${isStop ? 'stop' : 'advice'}: ${said}`)

test('two factors that keep out of each other’s way may start; an A/B test has none', () => {
  expect(textsOf([headline, button])).toEqual([])
  expect(textsOf([])).toEqual([])
  expect(changedLevels([headline, button]).map(({ name }) => name)).toEqual(['Headline, Level 1', 'Button, Level 1'])
})

test.each<[string, SheetFactor[], RegExp]>([
  ['one factor', [headline], /two factors or more/],
  ['a factor of one level', [headline, factor('Button')], /Button has one level/],
  ['two factors of one name', [headline, { ...button, name: 'headline' }], /Two factors have the same name/],
  [
    'a first level that changes something',
    [headline, { ...button, levels: [{ ...button.levels[1]!, id: 'first' }, button.levels[1]!] }],
    /Button: the first level is the page as it is/,
  ],
  [
    'a redirect',
    [headline, factor('Button', [{ kind: 'redirect', value: '/other', keepsParameters: true } as EditContent])],
    /cannot be combined/,
  ],
  [
    'more combinations than run at once',
    ['A', 'B', 'C', 'D'].map((name) => factor(name, [text(`#${name}`)])),
    /16 combinations are on, and at most 10/,
  ],
  ['the same text in two factors', [headline, factor('Button', [text('h1')])], /only the later one shows/],
  [
    'what another factor hides',
    [headline, factor('Button', [{ kind: 'hide', selector: 'h1' } as EditContent])],
    /takes away what the other changes/,
  ],
  [
    'what is inside of what another factor writes anew',
    [
      factor('Words', [text('main p')]),
      factor('Block', [{ kind: 'html', selector: 'main', value: 'x', original: '' }]),
    ],
    /takes away what the other changes about main p/,
  ],
])('%s stops the start', (_, factors, message) => {
  expect(textsOf(factors)).toContainEqual(expect.stringMatching(message))
  expect(textsOf(factors)[0]).toMatch(/^stop/)
})

test('two factors that change different things about one element are told, and may start', () => {
  const look: EditContent = { kind: 'style', selector: 'h1', value: { color: 'red' }, original: { color: '' } }
  expect(textsOf([headline, factor('Look', [look])])).toEqual([
    'advice: Headline, Level 1 and Look, Level 1 both change h1. Look at the two together before the start.',
  ])
})

test('a level that no combination shows is named', () => {
  const off = allCombinations([headline, button], []).filter(({ levels }) => levels[0]!.id === 'Headline-1')
  expect(textsOf([headline, button], off)).toEqual([
    'stop: Headline, Level 1 is in no combination that is on. Switch one on.',
  ])
})
