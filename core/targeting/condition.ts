import type { PageRule } from './pageRule'
import type { Fact, VisitorFacts } from './visitorFacts'
import { factOf, type Value } from './factOf'

/** Conditions that belong together. An empty `all` holds, an empty `any` does not, and `none` is the opposite of `any`. */
export interface Group {
  join: 'all' | 'any' | 'none'
  of: readonly Condition[]
}

/** How a fact is compared. */
export type Comparison =
  /** texts */
  | 'oneOf'
  | 'begins'
  | 'contains'
  | 'ends'
  | 'regex'
  /** numbers; `between` holds both ends */
  | 'equals'
  | 'least'
  | 'most'
  | 'between'
  /** versions, number by number: 2.10 is more than 2.9 */
  | 'versionLeast'
  | 'versionMost'
  /** yes or no */
  | 'yes'
  | 'no'
  /** lists that have one of the texts in them */
  | 'has'
  /** it is known */
  | 'known'

/** One thing that is asked of a visitor. What is not known, or is of another type, does not hold. */
export interface FactTest {
  fact: Fact
  /** Of a parameter, cookie, attribute or event its name, of data the way to it: basket.total. */
  name?: string
  is: Comparison
  /** For `oneOf` and `has`, any of them; else the first. Large and small letters are the same but in expressions. */
  texts?: readonly string[]
  number?: number
  /** The upper end of `between`. */
  to?: number
  /** Of what was done or seen: within so many days; without, at any time. */
  days?: number
  /** Of pages that were seen. */
  page?: PageRule
  /** Of weekday, hour and date: in whose time. */
  zone?: 'visitor' | 'site'
  /** Of `audience`, its number; of `variant`, that of the experiment, and `numbers` the positions. */
  id?: number
  numbers?: readonly number[]
}

export type Condition = Group | FactTest

export const isGroup = (condition: Condition): condition is Group => 'join' in condition

/** All tests of a condition, whatever groups they are in. */
export function testsIn(condition: Condition): FactTest[] {
  return isGroup(condition) ? condition.of.flatMap(testsIn) : [condition]
}

/** Conditions of saved audiences by their numbers. */
export type Audiences = Readonly<Record<number, Condition>>

/**
 * A condition with those of saved audiences in the place of their numbers; of one that is gone, nobody.
 *
 * @param audiences - referring to each other in no circle
 */
export function inlined(condition: Condition, audiences: Audiences): Condition {
  if (isGroup(condition)) return { ...condition, of: condition.of.map((each) => inlined(each, audiences)) }
  if (condition.fact !== 'audience') return condition
  const saved = audiences[condition.id ?? 0]
  if (!saved) return { join: 'any', of: [] }
  const inside = inlined(saved, audiences)
  return condition.is === 'no' ? { join: 'none', of: [inside] } : inside
}

/**
 * Whether a visitor fulfils a condition.
 *
 * @param condition - audiences in it refer to each other in no circle
 * @param facts - what is known; nothing that is not is taken as given
 * @param audiences - the saved audiences that the condition names
 * @example holds({ join: 'none', of: [{ fact: 'device', is: 'oneOf', texts: ['phone'] }] }, { now: 0, device: 'desktop' }) // true
 */
export function holds(condition: Condition, facts: VisitorFacts, audiences: Audiences = {}): boolean {
  if (isGroup(condition)) {
    const { join, of } = condition
    if (join === 'all') return of.every((each) => holds(each, facts, audiences))
    return of.some((each) => holds(each, facts, audiences)) === (join === 'any')
  }
  if (condition.fact === 'audience') {
    const saved = audiences[condition.id ?? 0]
    return saved !== undefined && holds(saved, facts, audiences) === (condition.is !== 'no')
  }
  return answers(condition, factOf(condition, facts))
}

/** Whether a value is what a test asks for; false for one that is unknown, or of another type. */
export function answers(test: FactTest, value: Value): boolean {
  const { is, texts = [], number = NaN, to = NaN } = test
  switch (is) {
    case 'known':
      return value !== null
    case 'yes':
    case 'no':
      return value === (is === 'yes')
    case 'has':
      return Array.isArray(value) && value.some((each) => isOneOf(each, texts))
    case 'versionLeast':
    case 'versionMost': {
      const order = compareVersions(asVersion(value), asVersion(texts[0] ?? null))
      return order !== null && (is === 'versionLeast' ? order >= 0 : order <= 0)
    }
    case 'equals':
      return value === number
    case 'least':
      return typeof value === 'number' && value >= number
    case 'most':
      return typeof value === 'number' && value <= number
    case 'between':
      return typeof value === 'number' && isBetween(value, number, to, test)
    default:
      return typeof value === 'string' && comparesText(is, value, texts)
  }
}

/** Hours go round: from 22 to 6 is the night. */
function isBetween(value: number, from: number, to: number, { fact }: FactTest): boolean {
  if (fact === 'hour' && from > to) return value >= from || value <= to
  return value >= from && value <= to
}

function comparesText(is: Comparison, value: string, texts: readonly string[]): boolean {
  if (is === 'oneOf') return isOneOf(value, texts)
  if (is === 'regex') return texts.some((each) => expression(each).test(value))
  const small = value.toLowerCase()
  return texts.some((each) => {
    const wanted = each.toLowerCase()
    if (is === 'begins') return small.startsWith(wanted)
    return is === 'ends' ? small.endsWith(wanted) : small.includes(wanted)
  })
}

function isOneOf(value: unknown, texts: readonly string[]): boolean {
  return typeof value === 'string' && texts.some((each) => each.toLowerCase() === value.toLowerCase())
}

const expressions = new Map<string, RegExp>()
function expression(source: string): RegExp {
  let found = expressions.get(source)
  if (!found) expressions.set(source, (found = new RegExp(source, 'u')))
  return found
}

/** Numbers of a version; null for what is none. */
function asVersion(value: Value): number[] | null {
  if (typeof value !== 'string' && typeof value !== 'number') return null
  const text = String(value).trim()
  return /^v?\d+(\.\d+)*$/i.test(text) ? text.replace(/^v/i, '').split('.').map(Number) : null
}

/** Below, at or above zero as a version is older, the same or newer; what is missing counts as zero. */
function compareVersions(one: readonly number[] | null, other: readonly number[] | null): number | null {
  if (!one || !other) return null
  for (let place = 0; place < Math.max(one.length, other.length); place++) {
    const difference = (one[place] ?? 0) - (other[place] ?? 0)
    if (difference !== 0) return difference
  }
  return 0
}
