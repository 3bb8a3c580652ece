import { answers, holds, isGroup, type Audiences, type Condition, type FactTest, type Group } from './condition'
import { factOf, type Value } from './factOf'
import type { VisitorFacts } from './visitorFacts'

/** Why a condition holds or not: each part of it with its own answer. */
export type Trace = GroupTrace | TestTrace
export interface GroupTrace {
  holds: boolean
  join: Group['join']
  of: Trace[]
}
export interface TestTrace {
  holds: boolean
  test: FactTest
  /** What was found; null for nothing. Of a saved audience, none. */
  found: Value
  /** Why there was nothing to compare: it is not known, or of another type than the test compares. */
  problem: 'unknown' | 'type' | 'gone' | null
  /** Of a saved audience, its own conditions. */
  audience?: Trace
}

/**
 * The answer of `holds` with its reasons: parts that do not matter to the answer are there too.
 *
 * @returns a trace whose `holds` is what `holds` says
 */
export function trace(condition: Condition, facts: VisitorFacts, audiences: Audiences = {}): Trace {
  if (isGroup(condition))
    return {
      holds: holds(condition, facts, audiences),
      join: condition.join,
      of: condition.of.map((each) => trace(each, facts, audiences)),
    }
  if (condition.fact === 'audience') {
    const saved = audiences[condition.id ?? 0]
    const inside = saved && trace(saved, facts, audiences)
    return {
      holds: !!inside && inside.holds === (condition.is !== 'no'),
      test: condition,
      found: null,
      problem: saved ? null : 'gone',
      ...(inside ? { audience: inside } : {}),
    }
  }
  const found = factOf(condition, facts)
  return { holds: answers(condition, found), test: condition, found, problem: problemOf(condition, found) }
}

const TYPES: Record<FactTest['is'], readonly string[]> = {
  oneOf: ['string'],
  begins: ['string'],
  contains: ['string'],
  ends: ['string'],
  regex: ['string'],

  equals: ['number'],
  least: ['number'],
  most: ['number'],
  between: ['number'],

  versionLeast: ['string', 'number'],
  versionMost: ['string', 'number'],
  yes: ['boolean'],
  no: ['boolean'],

  has: ['object'],
  known: ['string', 'number', 'boolean', 'object'],
}

function problemOf({ is }: FactTest, found: Value): TestTrace['problem'] {
  if (found === null) return 'unknown'
  return TYPES[is].includes(typeof found) ? null : 'type'
}
