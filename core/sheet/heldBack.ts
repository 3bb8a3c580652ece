import { BUCKETS } from '../assignment/assignment'
import type { PreflightFinding } from '../preflight/preflight'
import type { SheetPlan } from './content'
import { WANTED_POWER, type PlanReading } from './planReading'

/** Of 10,000: who is held back from a personalization unless somebody says otherwise. */
export const USUAL_HELD_BACK = 500
/** Of 10,000: with more held back it is a test. */
export const MOST_HELD_BACK = 5000
/** What takes longer is not waited for. */
const LONGEST_WEEKS = 52

/**
 * Share of the visitors of a personalization who are held back.
 *
 * @param variants - the control first, whose weight it is, of 10,000
 * @returns from 0 to 1
 * @example heldBackShare([{ weight: 500 }, { weight: 9500 }]) // 0.05
 */
export function heldBackShare([control]: readonly { weight: number }[]): number {
  return (control?.weight ?? 0) / BUCKETS
}

/** A test that a personalization leaves alone, with the share of the visitors that it takes. */
export interface TestApart {
  name: string
  /** From 0 to 1. */
  share: number
}

/** What tests whose visitors are left alone leave of the visitors, from 0 to 1: each takes its own by itself. */
export function leftByTests(tests: readonly TestApart[]): number {
  return tests.reduce((left, { share }) => left * (1 - share), 1)
}

/** Whom tests take that a personalization leaves alone. */
export function apartFindings(tests: readonly TestApart[]): PreflightFinding[] {
  return tests.map(({ name, share }) => ({
    section: 'who',
    isStop: share >= 1,
    text:
      share >= 1
        ? `“${name}” takes all visitors, so that nobody is left. Let it have this in all its variants, or wait for its end.`
        : `“${name}” takes ${percent(share)} of the visitors. This is for the others, until it ends.`,
  }))
}

/** What a held-back share can show, and in how many weeks; or what is given up without one. */
export function heldBackFindings(
  plan: SheetPlan,
  variants: readonly { weight: number }[],
  { needed, visitorsAWeek }: Pick<PlanReading, 'needed' | 'visitorsAWeek'>,
): PreflightFinding[] {
  const tell = (text: string): PreflightFinding[] => [{ section: 'who', isStop: false, text }]
  const share = heldBackShare(variants)
  if (share === 0) return tell('Nobody is held back, so what it does will not be known.')
  if (needed === null || !visitorsAWeek)
    return tell('Hardly anybody saw these pages in the last four weeks, so it cannot be said what will show, and when.')
  const weeks = Math.ceil(needed / visitorsAWeek)
  const lift = `a lift of ${percent(plan.smallestLift)}`
  const often = `in ${Math.round(WANTED_POWER * 100)} of 100 cases`
  return tell(
    weeks > LONGEST_WEEKS
      ? `With ${percent(share)} held back, ${lift} takes more than a year to show. A larger share shows it sooner.`
      : `With ${percent(share)} held back, ${lift} shows within ${weeks} ${weeks === 1 ? 'week' : 'weeks'} ${often}.`,
  )
}

function percent(share: number): string {
  return `${Number((share * 100).toFixed(2))} %`
}
