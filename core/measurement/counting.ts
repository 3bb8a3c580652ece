import type { PageRule } from '../targeting/pageRule'
import type { DetailTest } from './eventDetails'
import type { MetricSource, StepSource, VisitSource } from './metric'

/** Kinds of steps that can be counted. */
export type CountedKind = 'page' | 'click' | 'submit' | 'amount' | 'custom' | 'error' | 'reading'

/** What a step must be. What is not named may be anything. */
export interface StepTest {
  kind: CountedKind
  /** Selector of an element that it happened in. */
  within?: string
  /** Name of a custom event; of an amount, the selector that it was read from. */
  name?: string
  /** What a custom event must say. */
  detail?: DetailTest | null
}

/**
 * What of a visitor's steps a source counts. It is said here once, and read by three: `isCounted` for single events as
 * the fold measures them, `core/evidence/countedSteps.ts` for the columns that reports are computed from, and
 * `server/services/statements/countedSteps.ts` in SQL. `tests/integration/counting.test.ts` holds that they
 * agree.
 */
export interface StepCounting {
  of: 'steps'
  /** A step is counted that fits one of these. */
  anyOf: readonly StepTest[]
  /** On which pages; `tested` for those of the experiment, and for all pages where there is no experiment. */
  pages: PageRule | 'tested' | null
  /** Of steps that tell of the same thing again, such as an order that is shown twice, only the first is counted. */
  isOnce: boolean
  /** What one adds: 1, the seconds of a reading, or its amount of money (1 where it has none). */
  adds: 'one' | 'seconds' | 'money'
}

/** What of a visitor's visits a source counts. */
export interface VisitCounting {
  of: 'visits'
  /** Every visit, those that saw one page, or those that begin within so many days after another has ended. */
  which: 'each' | 'onePage' | { withinDays: number }
  /** What one adds: 1, or the seconds from its first page to its last. */
  adds: 'one' | 'seconds'
}

/** Elements of which a click is engagement: what leads on, or does something. */
const LEADING_ELEMENT = 'a'

/** What a source counts. */
export function countingOf(source: VisitSource): VisitCounting
export function countingOf(source: StepSource): StepCounting
export function countingOf(source: MetricSource): StepCounting | VisitCounting
export function countingOf(source: MetricSource): StepCounting | VisitCounting {
  const steps = (anyOf: readonly StepTest[], adds: StepCounting['adds'] = 'one'): StepCounting => ({
    of: 'steps',
    anyOf,
    pages: ('page' in source ? source.page : null) ?? null,
    isOnce: adds === 'money',
    adds,
  })
  switch (source.type) {
    case 'visit':
      return steps([{ kind: 'page' }])
    case 'click':
    case 'submit':
      return steps([{ kind: source.type, within: source.selector }])
    case 'pageAmount':
      return steps([{ kind: 'amount', name: source.selector }], 'money')
    case 'event':
      return steps([{ kind: 'custom', name: source.name, detail: source.detail ?? null }], 'money')
    case 'engagement': {
      const anyOf: StepTest[] = [{ kind: 'submit' }, { kind: 'click', within: LEADING_ELEMENT }]
      return { ...steps(anyOf), pages: source.page ?? 'tested' }
    }
    case 'error':
      return steps([{ kind: 'error' }])
    case 'timeInView':
      return steps([{ kind: 'reading' }], 'seconds')
    case 'visits':
      return { of: 'visits', which: 'each', adds: 'one' }
    case 'bounces':
      return { of: 'visits', which: 'onePage', adds: 'one' }
    case 'visitTime':
      return { of: 'visits', which: 'each', adds: 'seconds' }
    case 'return':
      return { of: 'visits', which: { withinDays: source.days }, adds: 'one' }
  }
}

/** Of what is counted, each may have an amount of money. */
export function carriesMoney(source: MetricSource): boolean {
  return countingOf(source).adds === 'money'
}
