import { normalDensity, normalUpperTail } from '../statistics/distributions'
import { risingRoot } from '../statistics/rootFinding'
import { pert, type LiftRange } from './pert'

/** What a variant of an ended experiment achieved; above zero is better. */
export interface PastLift {
  lift: number
  standardError: number
  /** The lift that it had to exceed to be chosen as the winner; left out for what was not chosen. */
  threshold?: number
}

/** What a next experiment can be expected to achieve, as far as earlier ones tell. */
export interface Past {
  /** Variants that it is learned from. */
  count: number
  mean: number
  /** Standard deviation of the true lift of a next one. */
  deviation: number
}

/** Fewer tell too little of how lifts differ. */
export const FEWEST_PAST = 3

/** How well the evidence bears an expectation. */
export const STRENGTHS = ['weak', 'fair', 'strong'] as const
export type Strength = (typeof STRENGTHS)[number]

/**
 * By how much the variance of an expectation is taken to be larger than it was said to be. People give ranges that are
 * too narrow; how much so is an assumption, and stated as one.
 */
export const DOUBT: Record<Strength, number> = { weak: 4, fair: 2, strong: 1 }

/**
 * Mean and spread of the true lifts behind what was measured: random effects by the method of moments, and the spread
 * of a next one with the doubt about the mean in it. Lifts of winners are corrected for having been chosen first.
 *
 * @returns null for fewer than three lifts
 * @see DerSimonian, Laird (1986), Meta-analysis in clinical trials, Controlled Clinical Trials 7, eq. for τ²;
 *   Higgins, Thompson, Spiegelhalter (2009), J. R. Statist. Soc. A 172, section 4.1, for the next one
 */
export function learnFromPast(lifts: readonly PastLift[]): Past | null {
  const known = lifts
    .filter(({ lift, standardError }) => Number.isFinite(lift) && standardError > 0)
    .map((each) => ({ ...each, lift: correctedLift(each) }))
  if (known.length < FEWEST_PAST) return null
  const weights = known.map(({ standardError }) => 1 / standardError ** 2)
  const sum = total(weights)
  const mean = meanOf(known, weights)
  const q = total(known.map(({ lift }, index) => weights[index]! * (lift - mean) ** 2))
  const between = Math.max(0, (q - (known.length - 1)) / (sum - total(weights.map((weight) => weight ** 2)) / sum))
  const random = known.map(({ standardError }) => 1 / (standardError ** 2 + between))
  return {
    count: known.length,
    mean: meanOf(known, random),
    deviation: Math.sqrt(between + 1 / total(random)),
  }
}

/**
 * A lift without what it owes to having been chosen: a winner was measured at more than a threshold, and those who were
 * lucky got there more often. The lift under which a winner would be measured like this on average; of a winner that
 * just got there it may be nothing, and is not taken to be less.
 *
 * @see Zhong, Prentice (2008), Bias-reduced estimators and confidence intervals for odds ratios in genome-wide
 *   association studies, Biostatistics 9, section 2.2, the conditional mean
 */
export function correctedLift({ lift, standardError, threshold }: PastLift): number {
  if (threshold === undefined || lift <= 0) return lift
  const meanIfChosen = (truth: number) => {
    const z = (threshold - truth) / standardError
    return truth + (standardError * normalDensity(z)) / normalUpperTail(z)
  }
  if (meanIfChosen(0) >= lift) return 0
  return risingRoot((truth) => meanIfChosen(truth) - lift, lift, standardError, 1e-12)
}

/** An expectation drawn toward what was achieved before. */
export interface DrawnRange {
  range: LiftRange
  /** How much of the expectation's own mean is left, from 0 to 1. */
  weight: number
}

/**
 * What becomes of an expectation in the light of the past: the normal posterior of its mean, with the shape of the
 * expectation kept. Weak evidence is drawn further.
 *
 * @param past - null where there is none: nothing is drawn then
 * @see Gelman et al. (2013), Bayesian data analysis, eq. 2.10; Efron, Morris (1975) for why it errs less
 */
export function drawTowardPast(range: LiftRange, strength: Strength, past: Past | null): DrawnRange {
  const { mean, variance } = pert(range)
  const doubted = variance * DOUBT[strength]
  if (!past || doubted === 0) return { range, weight: 1 }
  const weight = past.deviation ** 2 / (past.deviation ** 2 + doubted)
  const drawn = weight * mean + (1 - weight) * past.mean
  const spread = Math.sqrt(weight * DOUBT[strength])
  const at = (lift: number) => drawn + (lift - mean) * spread
  return { range: { low: at(range.low), likely: at(range.likely), high: at(range.high) }, weight }
}

function meanOf(lifts: readonly PastLift[], weights: readonly number[]): number {
  return total(lifts.map(({ lift }, index) => weights[index]! * lift)) / total(weights)
}

function total(values: readonly number[]): number {
  return values.reduce((sum, value) => sum + value, 0)
}
