import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { prepareChange } from '../../shared/experiments/sheetChange'
import { applyChange, ChangeRefused, itemsOf, thingAt, type SheetChange } from './change'
import { asMultivariate } from '../factors/kindOfTest'
import { drawThingId } from '../../shared/thingId'
import { PLAIN_TERMS } from './terms'
import type { SheetContent } from './content'
import { describeChange } from './describeChange'
import { drawnChange } from '../../tests/sheetChanges'
import { isSame } from './isSame'

const edit = (id: string, value = 'New') => ({ id, kind: 'text', selector: `#${id}`, original: 'Old', value }) as const
const HTML = { id: 'edit-html', kind: 'html', selector: '#box', original: '', value: '<b>x</b>' } as const
const CONTENT: SheetContent = {
  name: 'Headline',
  hypothesis: '',
  audience: null,
  share: 10_000,
  terms: PLAIN_TERMS,
  factors: [],
  combinationsOff: [],
  pageRules: [{ id: 'start-page', match: 'exact', value: '/' }],
  variants: [
    { id: 'control', name: 'Control', weight: 1, edits: [] },
    { id: 'variant-b', name: 'Warm', weight: 1, edits: [edit('edit-one'), edit('edit-two'), HTML] },
  ],
  metrics: [
    {
      id: 'bookings',
      name: 'Bookings',
      kind: 'conversion',
      direction: 'up',
      role: 'primary',
      limit: null,
      source: { type: 'event', name: 'order' },
      denominator: null,
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
const VARIANT = { part: 'variants', id: 'variant-b' } as const
const EDITS = { part: 'edits', variant: 'variant-b' } as const
const rename = (from: string, to: string): SheetChange => ({
  do: 'set',
  of: VARIANT,
  from: { name: from },
  to: { name: to },
})

const MULTIVARIATE = applyChange(CONTENT, asMultivariate(CONTENT, drawThingId)).content

test.each([
  ['an A/B test', CONTENT],
  ['a multivariate test', MULTIVARIATE],
])('any changes of %s, undone and done again in any number, lead back to exactly what was', (_, start) => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.array(fc.nat(99), { minLength: 4, maxLength: 4 }), fc.nat(2)), { maxLength: 40 }),
      (steps) => {
        let content = start
        const states: SheetContent[] = []
        let undo: SheetChange[] = []
        let redo: SheetChange[] = []
        const take = (from: SheetChange[], to: SheetChange[]) => {
          const change = from.pop()!
          // As it comes back from the database.
          const made = prepareChange(content, JSON.parse(JSON.stringify(change)) as SheetChange)
          content = made.content
          to.push(made.inverse)
        }
        for (const [numbers, back] of steps) {
          try {
            const made = prepareChange(content, drawnChange(content, numbers))
            states.length = undo.length
            states.push(content)
            content = made.content
            undo = [...undo, made.inverse]
            redo = []
          } catch (error) {
            if (!(error instanceof ChangeRefused) && (error as Error).name !== 'ValidationError') throw error
          }
          const ahead = content
          const times = Math.min(back, undo.length)
          for (let each = 0; each < times; each++) {
            take(undo, redo)
            expect(isSame(content, states[undo.length])).toBe(true)
          }
          for (let each = 0; each < times; each++) take(redo, undo)
          expect(isSame(content, ahead)).toBe(true)
        }
        while (undo.length > 0) take(undo, redo)
        expect(isSame(content, start)).toBe(true)
      },
    ),
  )
})

test('a level has an id of its own among all factors', () => {
  const [taken] = MULTIVARIATE.factors[0]!.levels
  const levels = [{ ...taken!, name: 'Forged' }]
  const factor = { id: 'factor-forged', name: 'Forged', levels }
  const add: SheetChange = { do: 'add', list: { part: 'factors' }, item: factor, before: null }
  expect(() => prepareChange(MULTIVARIATE, add)).toThrow(/Two levels have the same id/)
})

describe('a change that no longer applies is refused with a sentence', () => {
  test.each<[string, SheetChange, RegExp]>([
    ['a field that says something else by now', rename('Cool', 'Cold'), /changed since/],
    [
      'a variant that is gone',
      { ...rename('Warm', 'Hot'), of: { ...VARIANT, id: 'variant-c' } } as SheetChange,
      /not there/,
    ],
    [
      'an edit of a variant that is gone',
      { do: 'add', list: { part: 'edits', variant: 'variant-c' }, item: edit('edit-new'), before: null },
      /variant of this edit is not there/,
    ],
    [
      'removing what was changed since',
      { do: 'remove', list: EDITS, item: edit('edit-one', 'Other') },
      /changed since, so it stays/,
    ],
    ['adding what is there', { do: 'add', list: EDITS, item: edit('edit-one'), before: null }, /is there already/],
    ['a field that is none', { do: 'set', of: VARIANT, from: {}, to: { edits: [] } }, /nothing that can be changed/],
    [
      'a part that is none',
      { do: 'replace', from: {}, to: { state: 'running' } } as unknown as SheetChange,
      /nothing that can be changed/,
    ],
  ])('%s', (_, change, message) => expect(() => prepareChange(CONTENT, change)).toThrow(message))

  test.each<[string, SheetChange, RegExp]>([
    ['an empty name', rename('Warm', ' '), /Give the variant a name/],
    [
      'an edit that would run a script',
      {
        do: 'set',
        of: { ...EDITS, id: 'edit-html' },
        from: { value: '<b>x</b>' },
        to: { value: '<b onclick="go()">x</b>' },
      },
      /run a script/,
    ],
    ['the control', { do: 'replace', from: {}, to: { variants: [] } }, /control cannot be removed/],
    [
      'a second primary metric',
      { do: 'add', list: { part: 'metrics' }, item: { ...CONTENT.metrics[0]!, id: 'second' }, before: null },
      /At most one metric is the primary/,
    ],
  ])('%s is refused by the schema', (_, change, message) =>
    expect(() => prepareChange(CONTENT, change)).toThrow(message),
  )

  test('what is wrong elsewhere in the same thing keeps no field from being saved', () => {
    const broken = applyChange(CONTENT, rename('Warm', '')).content
    const { content } = prepareChange(broken, { do: 'set', of: VARIANT, from: { weight: 1 }, to: { weight: 3 } })
    expect(thingAt(content, VARIANT)).toMatchObject({ name: '', weight: 3 })
  })
})

test('an item whose place is gone comes back at the end', () => {
  const { inverse, content } = applyChange(CONTENT, { do: 'remove', list: EDITS, item: edit('edit-one') })
  const emptied = applyChange(content, { do: 'remove', list: EDITS, item: edit('edit-two') }).content
  expect(itemsOf(applyChange(emptied, inverse).content, EDITS)!.map(({ id }) => id)).toEqual(['edit-html', 'edit-one'])
})

test.each<[SheetChange, string]>([
  [rename('Warm', 'Hot'), 'Name of the variant “Warm”: “Warm” became “Hot”'],
  [
    { do: 'set', of: { part: 'sheet' }, from: { share: 10_000 }, to: { share: 250 } },
    'Traffic share: 100 % became 2.5 %',
  ],
  [
    { do: 'set', of: { part: 'plan' }, from: { mean: null }, to: { mean: 14 } },
    'Expected value of the control: nothing became 14',
  ],
  [{ do: 'remove', list: EDITS, item: edit('edit-one') }, 'Removed the edit: Text of #edit-one: “Old” becomes “New”'],
  [
    {
      do: 'set',
      of: { part: 'metrics', id: 'bookings' },
      from: { source: CONTENT.metrics[0]!.source },
      to: { source: { type: 'click', selector: '#book' } },
    },
    'What is counted of the metric “Bookings”: the event order became clicks on #book',
  ],
  [{ do: 'move', list: { part: 'variants' }, id: 'variant-b', before: null }, 'Moved the variant “Warm”'],
  [{ do: 'replace', from: {}, to: { share: 1, plan: CONTENT.plan } }, 'Set traffic share, decision plan together'],
])('a change is told in words: %#', (change, words) => expect(describeChange(CONTENT, change)).toBe(words))
