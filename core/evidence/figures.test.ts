import { seededUniform } from '../random/seededUniform'
import { expect, test } from 'vitest'
import {
  compareFigures,
  formFigures,
  funnelFigures,
  pageFigures,
  scaleMean,
  surveyFigures,
  type Figure,
} from './figures'

const FIELD = { name: 'length', label: 'Length of the vehicle', kind: 'text', hesitation: null }
const FORM = {
  page: '/book',
  form: 'booking',
  seen: 100,
  visitors: 100,
  begun: 80,
  sent: 30,
  fields: [{ ...FIELD, reached: 60, time: [1000, 4000, 9000] as const, refilled: 12, blank: 20, left: 40 }],
}
const find = (figures: readonly Figure[], key: string) => figures.find((each) => each.key === key)

test('a form is told by its shares and by each of its fields', () => {
  const figures = formFigures(FORM)
  expect(find(figures, 'begun')).toEqual({
    key: 'begun',
    label: 'Began it',
    kind: 'share',
    count: 80,
    of: 100,
    people: 100,
  })
  expect(find(figures, 'sent')).toMatchObject({ count: 30, of: 80 })
  expect(find(figures, 'length time')).toMatchObject({ label: 'Length of the vehicle: median time', value: 4000 })
  expect(find(figures, 'length left')).toMatchObject({ count: 40, of: 80 })
  expect(find(figures, 'length blank')).toMatchObject({ count: 20, of: 60 })
})

test('a funnel is told step by step, a page by its sessions, a survey by its choices', () => {
  const steps = [
    { reached: 200, time: null },
    { reached: 50, time: [1, 2, 3] as const },
    { reached: 10, time: null },
  ]
  const funnel = funnelFigures(['Book', 'Travelers', 'Pay'], { steps, visitors: 200 })
  expect(find(funnel, 'step 3')).toMatchObject({ label: '3. Pay: of the step before', count: 10, of: 50 })
  expect(find(funnel, 'step 3 of all')).toMatchObject({ count: 10, of: 200 })
  const page = { page: '/', views: 9, visitors: 5, sessions: 6, entries: 4, exits: 3, bounces: 2, seen: 900, told: 3 }
  const figures = pageFigures({ ...page, errors: 1, conversions: 2, converters: 2 }, false)
  expect(find(figures, 'bounces')).toMatchObject({ count: 2, of: 4 })
  expect(find(figures, 'seen')).toMatchObject({ value: 300 })
  expect(find(figures, 'conversions')).toBeUndefined()
  const question = { id: 'q', words: 'Why?', isOptional: false, scale: null, branches: [] }
  const choices = [{ id: 'a', words: 'Because' }]
  const tally = { id: 'q', answered: 8, choices: [{ id: 'a', count: 6 }], values: [] }
  const survey = surveyFigures([{ ...question, kind: 'one', choices }], { asked: 20, answered: 8, questions: [tally] })
  expect(find(survey, 'q a')).toMatchObject({ label: 'Why? Because', count: 6, of: 8 })
})

test('the mean of a scale leaves out what lies off it', () => {
  const scale = { low: 1, high: 5, lowWords: '', highWords: '' }
  const values = [
    { value: 1, count: 1 },
    { value: 4, count: 2 },
    { value: 10, count: 50 },
  ]
  expect(scaleMean({ scale }, values)).toBe(3)
  expect(scaleMean({ scale }, [{ value: 0, count: 9 }])).toBeNull()
})

test('a share that moved by more than chance is different, one that did not is not, and overlapping days say nothing', () => {
  const worse = { ...FORM, sent: 5, begun: 82 }
  const changes = compareFigures(formFigures(FORM), formFigures(worse), true)
  const of = (key: string) => changes.find((each) => each.key === key)!
  expect(of('sent').isDifferent).toBe(true)
  expect(of('sent').difference!.difference).toBeCloseTo(5 / 82 - 30 / 80, 12)
  expect(of('begun').isDifferent).toBe(false)
  expect(of('length time').isDifferent).toBeNull()
  expect(
    compareFigures(formFigures(FORM), formFigures(worse), false).map(({ isDifferent }) => isDifferent),
  ).not.toContain(true)
  const gone = compareFigures(formFigures(FORM), [], true)
  expect(gone.every(({ now, isDifferent }) => now === null && isDifferent === null)).toBe(true)
})

test('of many shares that stayed what they were, one in twenty looks is wrong at most', () => {
  let state = 7
  const uniform = () => (state = (state * 48_271) % 2_147_483_647) / 2_147_483_647
  const draw = (): Figure[] =>
    Array.from({ length: 10 }, (_, index) => {
      let counted = 0
      for (let each = 0; each < 200; each++) if (uniform() < 0.3) counted++
      return { key: String(index), label: '', kind: 'share', count: counted, of: 200, people: 200 }
    })
  let wrong = 0
  for (let look = 0; look < 300; look++)
    if (compareFigures(draw(), draw(), true).some(({ isDifferent }) => isDifferent)) wrong++
  expect(wrong / 300).toBeLessThan(0.08)
})

test('what one visitor does in several sessions is no proof of change: a share counts as of its visitors', () => {
  const uniform = seededUniform(11)
  /** A hundred visitors with four sessions each, of which each visitor ends here in nearly all or nearly none. */
  const draw = (): Figure[] => {
    let counted = 0
    for (let visitor = 0; visitor < 100; visitor++) {
      const own = uniform() < 0.4 ? 0.95 : 0.05
      for (let session = 0; session < 4; session++) if (uniform() < own) counted++
    }
    return [{ key: 'exits', label: '', kind: 'share', count: counted, of: 400, people: 100 }]
  }
  let wrong = 0
  for (let look = 0; look < 400; look++) if (compareFigures(draw(), draw(), true)[0]!.isDifferent) wrong++
  expect(wrong / 400).toBeLessThan(0.08)
  // As many visitors with a session each do say it.
  const of = (counted: number): Figure[] => [
    { key: 'exits', label: '', kind: 'share', count: counted, of: 400, people: 400 },
  ]
  expect(compareFigures(of(140), of(190), true)[0]!.isDifferent).toBe(true)
  // Views from before visitors were kept say nothing.
  expect(
    compareFigures([{ key: 'exits', label: '', kind: 'share', count: 1, of: 400 }], of(190), true)[0],
  ).toMatchObject({
    difference: null,
    isDifferent: null,
  })
})
