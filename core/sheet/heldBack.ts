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
 * @param weights - relative, those of the control first
 * @returns from 0 to 1
 * @example heldBackShare([500, 9500]) // 0.05
 */
export function heldBackShare(weights: readonly number[]): number {
  const total = weights.reduce((sum, weight) => sum + weight, 0)
  return total > 0 ? weights[0]! / total : 0
}

/**
 * Weights that hold a share back, and leave what is served to whom it was served.
 *
 * @param heldBack - of 10,000
 * @param weights - relative, those of the control first
 * @returns weights that add up to 10,000 but for rounding
 * @example weightsHolding(500, [1, 1]) // [500, 9500]
 */
export function weightsHolding(heldBack: number, weights: readonly number[]): number[] {
  const served = weights.slice(1)
  const total = served.reduce((sum, weight) => sum + weight, 0)
  return [
    heldBack,
    ...served.map((weight) => Math.round((10_000 - heldBack) * (total > 0 ? weight / total : 1 / served.length))),
  ]
}

/** What a held-back share can show, and in how many weeks; or what is given up without one. */
export function heldBackFindings(
  plan: SheetPlan,
  weights: readonly number[],
  { needed, visitorsAWeek }: Pick<PlanReading, 'needed' | 'visitorsAWeek'>,
): PreflightFinding[] {
  const tell = (text: string): PreflightFinding[] => [{ section: 'who', isStop: false, text }]
  const share = heldBackShare(weights)
  if (share === 0) return tell('Nobody is held back, so what it does will not be known.')
  if (needed === null || !visitorsAWeek)
    return tell('Hardly anybody saw these pages in the last four weeks, so it cannot be said what will show, and when.')
  const weeks = Math.ceil(needed / visitorsAWeek)
  const lift = `a lift of ${percent(plan.smallestLift)}`
  const often = `in ${Math.round(WANTED_POWER * 100)} of 100 cases`
  return tell(
    weeks > LONGEST_WEEKS
      ? `With ${percent(share)} held back, ${lift} takes more than a year to show. Hold back more to know sooner.`
      : `With ${percent(share)} held back, ${lift} shows within ${weeks} ${weeks === 1 ? 'week' : 'weeks'} ${often}.`,
  )
}

function percent(share: number): string {
  return `${Number((share * 100).toFixed(2))} %`
}
