import { expect, test } from 'vitest'
import type { Edit } from '../edits/content'
import { PLAIN_TERMS } from '../sheet/terms'
import type { SheetContent, SheetFactor } from '../sheet/content'
import { applyChange } from '../sheet/change'
import { allCombinations, combinedVariants, combinationCount } from './combinations'
import { asMultivariate, asSplitTest } from './kindOfTest'

const edit = (id: string, selector = `#${id}`): Edit => ({ id, kind: 'text', selector, original: 'Old', value: 'New' })
const FACTORS: SheetFactor[] = [
  {
    id: 'headline',
    name: 'Headline',
    levels: [
      { id: 'headline-1', name: 'As it is', edits: [] },
      { id: 'headline-2', name: 'Warm', edits: [edit('warm')] },
    ],
  },
  {
    id: 'button',
    name: 'Button',
    levels: [
      { id: 'button-1', name: 'As it is', edits: [] },
      { id: 'button-2', name: 'Large', edits: [edit('large')] },
      { id: 'button-3', name: 'Green', edits: [edit('green')] },
    ],
  },
]
const CONTENT: SheetContent = {
  name: 'Test',
  hypothesis: '',
  audience: null,
  share: 10_000,
  terms: PLAIN_TERMS,
  pageRules: [],
  metrics: [],
  factors: [],
  combinationsOff: [],
  variants: [
    { id: 'control', name: 'Control', weight: 2, edits: [] },
    {
      id: 'variant-b',
      name: 'Both',
      weight: 1,
      edits: [edit('warm'), edit('large'), edit('again', '#warm'), { ...edit('later'), isOff: true }],
    },
  ],
  plan: {
    smallestLift: 0.05,
    baseline: 0.05,
    alpha: 0.05,
    rule: 'sequential',
    lossLimit: 0.005,

    leastWeeks: 2,
    longestWeeks: 6,
    plannedVisitors: 20_000,
  },
}
const counted = () => {
  let drawn = 0
  return () => `drawn-${++drawn}`
}
const changed = (content: SheetContent) => applyChange(content, asMultivariate(content, counted()))

test('every level of each factor meets every level of the others, and the control comes first', () => {
  const all = allCombinations(FACTORS, [])
  expect(all.map(({ name }) => name)).toEqual([
    'Control',
    'As it is × Large',
    'As it is × Green',
    'Warm × As it is',
    'Warm × Large',
    'Warm × Green',
  ])
  expect(combinationCount(FACTORS)).toBe(all.length)
  expect(new Set(all.map(({ id }) => id)).size).toBe(all.length)
})

test('a combination has the edits of its levels in the order of the factors, and keeps its id when others go', () => {
  const [control, , , , both] = allCombinations(FACTORS, [])
  const off = [{ id: control!.id }, { id: allCombinations(FACTORS, [])[1]!.id }, { id: 'nothing' }]
  const variants = combinedVariants({ factors: FACTORS, combinationsOff: off })
  expect(variants).toHaveLength(5)
  expect(variants[0]).toMatchObject({ name: 'Control', edits: [], weight: 1 })
  const found = variants.find(({ id }) => id === both!.id)!
  expect(found.edits.map(({ id }) => id)).toEqual(['warm', 'large'])
  expect(found.levels).toEqual(['headline-2', 'button-2'])
})

test('a variant that changes two things becomes two factors, and back again exactly what it was', () => {
  const { content, inverse } = changed(CONTENT)
  expect(content.factors.map(({ name, levels }) => [name, levels.map(({ edits }) => edits.length)])).toEqual([
    // With the one that is switched off, which is kept.
    ['#warm', [0, 3]],
    ['#large', [0, 1]],
  ])
  expect(content.variants.map(({ edits }) => edits.map(({ id }) => id))).toEqual([
    [],
    ['large'],
    ['warm', 'again', 'later'],
    ['warm', 'again', 'later', 'large'],
  ])
  expect(applyChange(content, inverse).content).toEqual(CONTENT)
})

test('several variants become levels of the first factor', () => {
  const three = { ...CONTENT, variants: [...CONTENT.variants, { id: 'variant-c', name: 'C', weight: 1, edits: [] }] }
  const { factors } = changed(three).content
  expect(factors.map(({ levels }) => levels.map(({ name }) => name))).toEqual([
    ['As it is', 'Both', 'C'],
    ['As it is', 'Changed'],
  ])
})

test('combinations follow from the levels: they change with them, and not by themselves', () => {
  const { content } = changed(CONTENT)
  const level = content.factors[0]!.levels[1]!
  const place = { part: 'levels', factor: content.factors[0]!.id, id: level.id } as const
  const renamed = applyChange(content, { do: 'set', of: place, from: { name: 'Changed' }, to: { name: 'Warm' } })
  expect(renamed.content.variants.map(({ name }) => name)).toContain('Warm × Changed')
  const cleared = applyChange(renamed.content, {
    do: 'remove',
    list: { part: 'edits', variant: level.id },
    item: level.edits[0]!,
  })
  expect(cleared.content.variants[3]!.edits.map(({ id }) => id)).toEqual(['again', 'later', 'large'])
  expect(applyChange(cleared.content, cleared.inverse).content).toEqual(renamed.content)
  const variant = { part: 'variants', id: content.variants[1]!.id } as const
  expect(() => applyChange(content, { do: 'set', of: variant, from: {}, to: { weight: 3 } })).toThrow(/combinations/)
})

test('an A/B test of the combinations that are on has their edits', () => {
  const { content } = changed(CONTENT)
  const off = { id: content.variants[1]!.id }
  const less = applyChange(content, { do: 'add', list: { part: 'combinationsOff' }, item: off, before: null }).content
  const split = applyChange(less, asSplitTest(less)).content
  expect(split.factors).toEqual([])
  expect(split.variants.map(({ edits }) => edits.length)).toEqual([0, 3, 4])
})
