import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import table from './cases.json'
import { holds, inlined, isGroup, testsIn, type Audiences, type Condition } from './condition'
import { circleOf, conditionProblems } from './conditionProblems'
import { conditionInWords } from './conditionWords'
import { trace, type Trace } from './trace'
import type { VisitorFacts } from './visitorFacts'

const AUDIENCES = table.audiences as Audiences
const VISITORS = table.visitors as unknown as Record<string, VisitorFacts>
const CASES = table.cases as unknown as {
  visitor: string
  with?: Partial<VisitorFacts>
  condition: Condition
  holds: boolean
  found: unknown[]
}[]

function leavesOf(each: Trace): Extract<Trace, { test: object }>[] {
  return 'of' in each ? each.of.flatMap(leavesOf) : [each]
}

describe('the table of conditions, visitors and answers', () => {
  test('is as long as it was promised to be', () => expect(CASES.length).toBeGreaterThanOrEqual(200))

  test.each(CASES.map((each, index) => [`${index}: ${each.visitor} ${JSON.stringify(each.condition)}`, each] as const))(
    '%s',
    (_, { visitor, with: other, condition, holds: expected, found }) => {
      const facts = { ...VISITORS[visitor]!, ...other }
      expect(holds(condition, facts, AUDIENCES)).toBe(expected)
      const traced = trace(condition, facts, AUDIENCES)
      expect(traced.holds).toBe(expected)
      expect(leavesOf(traced).map((leaf) => leaf.found)).toEqual(found)
    },
  )
})

const aTest = fc.constantFrom(...CASES.filter(({ condition }) => !isGroup(condition)).map(({ condition }) => condition))
const aCondition: fc.Arbitrary<Condition> = fc.letrec<{ condition: Condition }>((tie) => ({
  condition: fc.oneof(
    { maxDepth: 3, withCrossShrink: true },
    aTest,
    fc.record({ join: fc.constantFrom('all', 'any', 'none'), of: fc.array(tie('condition'), { maxLength: 4 }) }),
  ),
})).condition
const aVisitor = fc.constantFrom(...Object.values(VISITORS))

describe('for any condition and visitor', () => {
  const property = (check: (condition: Condition, facts: VisitorFacts) => void) =>
    fc.assert(fc.property(aCondition, aVisitor, check))

  test('none is not any', () =>
    property((condition, facts) => {
      const of = [condition]
      expect(holds({ join: 'none', of }, facts, AUDIENCES)).toBe(!holds({ join: 'any', of }, facts, AUDIENCES))
    }))

  test('with saved audiences in their places it asks the same', () =>
    property((condition, facts) => {
      for (const is of ['yes', 'no'] as const) {
        const asked: Condition = { join: 'all', of: [condition, { fact: 'audience', is, id: 99 }] }
        const saved = { ...AUDIENCES, 99: { join: 'any', of: [condition, { fact: 'visits', is: 'least', number: 2 }] } }
        const whole = inlined(asked, saved as Audiences)
        expect(testsIn(whole).some(({ fact }) => fact === 'audience')).toBe(false)
        expect(holds(whole, facts)).toBe(holds(asked, facts, saved as Audiences))
        expect(trace(asked, facts, saved as Audiences).holds).toBe(holds(whole, facts))
      }
    }))

  test('the order of conditions changes nothing', () =>
    property((condition, facts) => {
      const turned = (each: Condition): Condition =>
        isGroup(each) ? { ...each, of: each.of.map(turned).reverse() } : each
      expect(holds(turned(condition), facts, AUDIENCES)).toBe(holds(condition, facts, AUDIENCES))
    }))

  test('the leaves of the trace explain the answer', () =>
    property((condition, facts) => {
      const answer = (each: Trace): boolean => {
        if (!('of' in each)) return each.audience ? answer(each.audience) : each.holds
        const parts = each.of.map(answer)
        if (each.join === 'all') return parts.every(Boolean)
        return parts.some(Boolean) === (each.join === 'any')
      }
      const traced = trace(condition, facts, AUDIENCES)
      expect(answer(traced)).toBe(holds(condition, facts, AUDIENCES))
      for (const leaf of leavesOf(traced)) if (leaf.problem !== null) expect(leaf.holds).toBe(false)
    }))

  test('whatever the page gives, nothing throws', () => {
    fc.assert(
      fc.property(aCondition, fc.dictionary(fc.string(), fc.anything()), fc.string(), (condition, given, text) => {
        const facts = { now: 0, attributes: given, data: given, address: text, landing: text, timeZone: text }
        expect(typeof trace(condition, facts, AUDIENCES).holds).toBe('boolean')
      }),
    )
  })
})

const phone: Condition = { fact: 'device', is: 'oneOf', texts: ['phone'] }
const desktop: Condition = { fact: 'device', is: 'oneOf', texts: ['desktop'] }
const visits = (is: 'least' | 'most', number: number): Condition => ({ fact: 'visits', is, number })

test.each<[string, Condition, RegExp | null]>([
  ['a phone and a desktop', { join: 'all', of: [phone, desktop] }, /Device: nobody fits both/],
  ['a phone or a desktop', { join: 'any', of: [phone, desktop] }, null],
  ['what is ruled out', { join: 'all', of: [phone, { join: 'none', of: [phone] }] }, /asked for and ruled out/],
  ['numbers apart', { join: 'all', of: [visits('least', 5), visits('most', 3)] }, /nobody fits both/],
  ['numbers that meet', { join: 'all', of: [visits('least', 3), visits('most', 3)] }, null],
  ['any of nothing', { join: 'all', of: [{ join: 'any', of: [] }] }, /is nobody/],
  ['the wrong way round', { fact: 'visits', is: 'between', number: 5, to: 2 }, /Put the smaller one first/],
  ['a night', { fact: 'hour', is: 'between', number: 22, to: 6, zone: 'site' }, null],
  [
    'two cookies',
    {
      join: 'all',
      of: ['a', 'b'].map((name) => ({ fact: 'cookie' as const, name, is: 'oneOf' as const, texts: [name] })),
    },
    null,
  ],
])('of %s it is said at once', (_, condition, text) => {
  const found = conditionProblems(condition).map((each) => each.text)
  if (text === null) expect(found).toEqual([])
  else expect(found.join(' ')).toMatch(text)
})

test('audiences in a circle are found', () => {
  const inside = (id: number): Condition => ({ join: 'all', of: [{ fact: 'audience', is: 'yes', id }] })
  expect(circleOf(1, { 1: inside(2), 2: inside(3), 3: inside(1) })).toEqual([1, 2, 3, 1])
  expect(circleOf(1, { 1: inside(2), 2: inside(3), 3: phone })).toBeNull()
  expect(circleOf(1, { 1: inside(1) })).toEqual([1, 1])
})

test('a condition reads as a sentence', () => {
  const ordered: Condition = { fact: 'did', name: 'order', is: 'least', number: 1, days: 28 }
  const condition: Condition = {
    join: 'all',
    of: [
      phone,
      { join: 'any', of: [visits('least', 2), { fact: 'audience', is: 'yes', id: 4 }] },
      { join: 'none', of: [ordered] },
    ],
  }
  expect(conditionInWords(condition, { audiences: { 4: 'Islanders' } })).toBe(
    'device is phone and (number of visits is at least 2 or in “Islanders”) and not did “order” at least once in the last 28 days',
  )
  expect(conditionInWords({ join: 'all', of: [] })).toBe('everybody')
})
