import { holds, testsIn, type Condition, type FactTest } from './condition'
import { factOf } from './factOf'
import { factsAlong, type Past } from './replay'
import type { Fact } from './visitorFacts'

/** How a test did on views of the past. */
export interface TestTally {
  test: FactTest
  /** Whether it held on any view. */
  hasHeld: boolean
  /** Texts that were found in place of what it asks for, each with the number of visitors. */
  found: Map<string, number>
}

/** What is no property of the visitors that come, and may hold another day. */
const OF_ANOTHER_DAY: readonly Fact[] = ['date', 'weekday', 'hour', 'variant', 'audience']
const MOST_NAMED = 5
const LONGEST_NAMED = 40

/** The tests of a condition, before any view was looked at. Those on what the past does not tell are left out. */
export function testTallies(condition: Condition, unknown: readonly Fact[]): TestTally[] {
  return testsIn(condition)
    .filter(({ fact }) => !OF_ANOTHER_DAY.includes(fact) && !unknown.includes(fact))
    .map((test) => ({ test, hasHeld: false, found: new Map() }))
}

/** Takes a visitor's views into the tallies. */
export function tallyPast(tallies: readonly TestTally[], past: Past): void {
  const open = tallies.filter(({ hasHeld }) => !hasHeld)
  if (open.length === 0) return
  const facts = past.views.map(factsAlong(past))
  for (const tally of open) {
    tally.hasHeld = facts.some((each) => holds(tally.test, each))
    const texts =
      tally.test.fact === 'did'
        ? past.events.map(({ name }) => name)
        : facts.map((each) => factOf(tally.test, each)).filter((value) => typeof value === 'string')
    for (const text of new Set(texts)) tally.found.set(text, (tally.found.get(text) ?? 0) + 1)
  }
}

/**
 * Tests that held for nobody who was looked at, each with the texts that most visitors had in place of it.
 *
 * @example
 * neverHeld(tallies) // [{ test: { fact: 'sourceKind', is: 'oneOf', texts: ['newsletter'] }, found: ['direct', 'mail'] }]
 */
export function neverHeld(tallies: readonly TestTally[]): { test: FactTest; found: string[] }[] {
  return tallies
    .filter(({ hasHeld }) => !hasHeld)
    .map(({ test, found }) => ({
      test,
      found: [...found]
        .sort(([a, one], [b, other]) => other - one || (a < b ? -1 : 1))
        .slice(0, MOST_NAMED)
        .map(([text]) => (text.length > LONGEST_NAMED ? `${text.slice(0, LONGEST_NAMED)}…` : text)),
    }))
}
