import type { Interval } from '../statistics/compareArms'
import type { DecisionPlan, Verdict, VerdictKind } from './verdict'

/** Verdicts that end the question. What is said before may change with every visitor. */
const CONCLUSIONS: ReadonlySet<VerdictKind> = new Set(['harm', 'ship', 'no-difference', 'ship-low-risk', 'open'])

/** A verdict as it was reached: it is kept, whatever comes later. A second look would need another interval. */
export interface ReachedVerdict {
  verdict: Verdict
  /** Moment of the look, in the ISO 8601 format. */
  at: string
  daysRun: number
  visitors: number
  rule: DecisionPlan['rule']
  /** Of the primary metric, by that rule. */
  variants: {
    name: string
    visitors: number
    lift: number | null
    interval: Interval | null
    /** By a plan that spends its error until its end: adjusted for having stopped there. */
    adjusted?: { lift: number; interval: Interval } | null
  }[]
}

/** Whether a verdict is one that is kept. */
export function isConclusion({ kind }: Pick<Verdict, 'kind'>): boolean {
  return CONCLUSIONS.has(kind)
}

/** What is said of an experiment, once something was reached. */
export interface StandingVerdict {
  /** What to go by. */
  verdict: Verdict | null
  reached: ReachedVerdict | null
  /** What the numbers of now say, where that is something else than what was reached. */
  since: Verdict | null
}

/**
 * What to go by: the first conclusion, unless the data are not to be trusted any more.
 *
 * @param now - what the plan says of the numbers as they are now
 * @param reached - the first conclusion, if there was one
 */
export function standingVerdict(now: Verdict | null, reached: ReachedVerdict | null): StandingVerdict {
  if (!reached || now?.kind === 'distrust') return { verdict: now, reached, since: null }
  const isOther = now !== null && (now.kind !== reached.verdict.kind || now.variant !== reached.verdict.variant)
  return { verdict: reached.verdict, reached, since: isOther ? now : null }
}
