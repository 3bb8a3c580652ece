import type { Assessment, HypothesisSummary, IdeaMetric } from '~~/shared/hypotheses/replies'
import { expect, test } from 'vitest'
import {
  chanceInWords,
  gainInWords,
  ideaPages,
  missingInWords,
  roundMoney,
  roundUnits,
  weeksInWords,
} from './ideaWords'
import { pagesOf, quarterQuestion, untilWeek, whyNotTestable } from './quarterIdeas'
import type { Group } from '~~/core/targeting/condition'
import { DAY } from '~~/core/time/units'

const METRIC: IdeaMetric = {
  id: 'metric-a',
  name: 'Bookings',
  kind: 'conversion',
  isMoney: false,
  source: { type: 'event', name: 'order' },
}
const expected = (value: number) => ({ expected: value, low: 0, high: 2 * value })
const assessment = (changes: Partial<Assessment> = {}): Assessment => ({
  figures: {
    from: '2026-05-01',
    to: '2026-05-28',
    visitors: 400,
    converters: 40,
    mean: 0.1,
    deviation: 0.3,
    unitValue: 50,
    problem: null,
  },
  worth: {
    visitorsAWeek: 100,
    unitsAMonth: 43,
    gain: expected(4.25),
    money: expected(212.4),
    chance: 0.8,

    gainADay: 4.25,
    moneyADay: 212.4,
  },

  typedWorth: null,
  drawn: null,
  weight: 1,
  untestable: null,
  cost: { visitors: 800, weeks: 8, visibleLift: 0.3 },
  ...changes,
})
const idea = (changes: Partial<HypothesisSummary> = {}) =>
  ({
    id: 1,
    stage: 'new',
    pages: 'is:/book',
    effortDays: 2,
    likely: 0.1,
    metric: 'metric-a',
    audience: null,
    assessment: assessment(),
    ...changes,
  }) as HypothesisSummary

test('gains are round, in money where that is known and in units elsewhere', () => {
  expect(roundMoney(-1284.5, 'EUR')).toBe('−€1,285')
  expect(roundMoney(-0.3, 'EUR')).toBe('€0')
  expect([roundUnits(4.25), roundUnits(1284.4), roundUnits(-12.6)]).toEqual(['4.3', '1,284', '−13'])
  expect(gainInWords(assessment(), METRIC, 'EUR')).toBe('€212')
  const worth = { ...assessment().worth!, money: null }
  expect(gainInWords(assessment({ worth }), METRIC, 'EUR')).toBe('4.3 bookings')
  expect(gainInWords(null, METRIC, 'EUR')).toBe('–')
})

test('a chance is never said to be certain that is not', () => {
  expect([null, 0, 0.001, 0.5, 0.999, 1].map(chanceInWords)).toEqual(['–', '0 %', '< 1 %', '50 %', '> 99 %', '> 99 %'])
})

test('pages, weeks and what is missing are told in words', () => {
  expect([ideaPages(null), ideaPages('begins:/crossings/')]).toEqual([
    'all pages',
    'addresses that begin with /crossings/',
  ])
  expect([weeksInWords(1), weeksInWords(12), weeksInWords(null)]).toEqual(['1 week', '12 weeks', '–'])
  expect(missingInWords(idea({ metric: null }))).toMatch(/Choose a metric/)
  expect(missingInWords(idea({ likely: null }))).toMatch(/low, a likely and a high/)
  expect(missingInWords(idea({ effortDays: null }))).toMatch(/how many days/)
  expect(missingInWords(idea())).toBeNull()
})

test('an idea needs the pages that its rule is about, of those that are known', () => {
  const known = ['/', '/book', '/book/pay', 'shop.example/book']
  expect(pagesOf('begins:/book', known)).toEqual(['/book', '/book/pay'])
  expect(pagesOf(null, known)).toEqual(known)
  expect(pagesOf('is:/nowhere', known)).toEqual(['/nowhere'])
})

test('a quarter is chosen from what is open, has a value and can be tested; of the rest it is said why not', () => {
  const untestable = 'Needs 31 weeks: test it higher in the funnel, or decide without a test.'
  const others: [Partial<HypothesisSummary>, RegExp | null][] = [
    [{ stage: 'learned' }, null],
    [{ assessment: null }, /no metric or figures/],
    [{ likely: null, assessment: assessment({ worth: null }) }, /does not say what is expected/],
    [{ assessment: assessment({ untestable }) }, /^Needs 31 weeks/],
    [{ assessment: assessment({ worth: { ...assessment().worth!, money: null } }) }, /no value in money/],
    [{ assessment: assessment({ worth: { ...assessment().worth!, money: expected(-5) } }) }, /not expected to bring/],
  ]
  const all = [idea(), ...others.map(([changes]) => idea({ ...changes, id: 2 }))]
  expect(quarterQuestion(all, [], ['/book'], SPAN)).toEqual({
    ideas: [{ id: 1, weeks: 8, worth: 212.4, effortDays: 2, pages: ['/book 0'] }],
    taken: [],
  })
  for (const [changes, why] of others)
    if (why) expect(whyNotTestable(idea(changes))).toMatch(why)
    else expect(whyNotTestable(idea(changes))).toBeNull()
})

const SPAN = { begin: Date.UTC(2026, 5, 1), weeks: 13 }
const PHONES: Group = { join: 'all', of: [{ fact: 'device', is: 'oneOf', texts: ['phone'] }] }
const run = (startedAt: number, longestWeeks: number, audience: Group | null = null) => ({
  id: 1,
  name: 'Runs',
  startedAt: new Date(startedAt).toISOString(),
  longestWeeks,
  audience,
  rules: [{ match: 'begins' as const, value: '/book' }],
})

test('tests for different devices need different visitors of a page; a running one takes its own', () => {
  const ideas = [
    idea({ audience: 'device:phone,visitor:new' }),
    idea({ id: 2, audience: 'device:desktop' }),
    idea({ id: 3, audience: null }),
  ]
  const asked = quarterQuestion(ideas, [run(SPAN.begin, 3, PHONES)], ['/', '/book'], SPAN)
  expect(asked.ideas.map(({ pages }) => pages)).toEqual([['/book 1'], ['/book 0'], ['/book 0', '/book 1', '/book 2']])
  expect(asked.taken).toEqual([{ page: '/book 1', from: 0, until: 3 }])
})

test('pages of a running test are taken until its longest run is over', () => {
  const { begin } = SPAN
  const week = 7 * DAY
  expect(untilWeek(run(begin - 2.5 * week, 6), begin, 13)).toBe(4)
  expect(untilWeek(run(begin - 8 * week, 6), begin, 13)).toBe(0)
  expect(quarterQuestion([], [run(begin - 8 * week, 6)], ['/book'], SPAN).taken).toEqual([])
  expect(untilWeek(run(begin, 26), begin, 13)).toBe(13)
})
