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

/**
 * What is taken for granted before any test has ended: the mean of a team's lifts lies within ±4 % in 95 of 100 cases,
 * and lifts differ from each other by a deviation that is hardly more than 10 %. Of what teams try, about a third helps.
 *
 * @see Kohavi, Crook, Longbotham (2009), Online experimentation at Microsoft, for the third
 */
export const BEFORE = { meanDeviation: 0.02, spreadScale: 0.05 } as const

/** Spreads of the true lifts that are looked at, evenly on a logarithmic scale. */
const SPREADS = Array.from({ length: 60 }, (_, index) => 0.002 * 150 ** (index / 59))

/** How well the evidence bears an expectation. */
export const STRENGTHS = ['weak', 'fair', 'strong'] as const
export type Strength = (typeof STRENGTHS)[number]

/**
 * By how much the variance of an expectation is taken to be larger than it was said to be. People give ranges that are
 * too narrow: what they are 80 % sure of holds about half of the time, so that the deviation is twice what they say, and
 * the variance four times. That weak evidence is twice as uncertain as fair, and strong half as much, is an assumption.
 *
 * @see Soll, Klayman (2004), Overconfidence in interval estimates, J. Exp. Psychol. Learn. Mem. Cogn. 30
 */
export const DOUBT: Record<Strength, number> = { weak: 8, fair: 4, strong: 2 }

/**
 * What a next experiment can be expected to achieve: the predictive mean and deviation of a normal model of true lifts,
 * their mean normal about zero, their spread half-normal (see `BEFORE`), integrated over a grid of spreads. So a few
 * tests move the expectation a little, and many decide it. Lifts of winners are corrected for having been chosen first.
 *
 * @param lifts - none at all is fine
 * @example learnFromPast([]) // { count: 0, mean: 0, deviation: about 0.054 }
 * @see Gelman et al. (2013), Bayesian data analysis, section 5.4, eq. 5.18 to 5.21, with a normal prior of the mean
 */
export function learnFromPast(lifts: readonly PastLift[]): Past {
  const known = lifts
    .filter(({ lift, standardError }) => Number.isFinite(lift) && standardError > 0)
    .map((each) => ({ lift: correctedLift(each), variance: each.standardError ** 2 }))
  const parts = SPREADS.map((spread) => {
    const weights = known.map(({ variance }) => 1 / (variance + spread ** 2))
    const precision = 1 / BEFORE.meanDeviation ** 2 + total(weights)
    const mean = total(known.map(({ lift }, index) => weights[index]! * lift)) / precision
    const fit = total(known.map(({ lift }, index) => (Math.log(weights[index]!) - weights[index]! * lift ** 2) / 2))
    // The last term makes even steps of the logarithm even steps of the spread.
    const logWeight =
      fit + (mean ** 2 * precision - Math.log(precision) - (spread / BEFORE.spreadScale) ** 2) / 2 + Math.log(spread)
    return { logWeight, mean, variance: 1 / precision + spread ** 2 }
  })
  const largest = Math.max(...parts.map(({ logWeight }) => logWeight))
  const weights = parts.map(({ logWeight }) => Math.exp(logWeight - largest))
  const average = (values: readonly number[]) =>
    total(values.map((value, index) => weights[index]! * value)) / total(weights)
  const mean = average(parts.map((part) => part.mean))
  return {
    count: known.length,
    mean,
    deviation: Math.sqrt(average(parts.map((part) => part.variance + (part.mean - mean) ** 2))),
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
 * @see Gelman et al. (2013), Bayesian data analysis, eq. 2.10; Efron, Morris (1975) for why it errs less
 */
export function drawTowardPast(range: LiftRange, strength: Strength, past: Past): DrawnRange {
  const { mean, variance } = pert(range)
  const doubted = variance * DOUBT[strength]
  if (doubted === 0) return { range, weight: 1 }
  const weight = past.deviation ** 2 / (past.deviation ** 2 + doubted)
  const drawn = weight * mean + (1 - weight) * past.mean
  const spread = Math.sqrt(weight * DOUBT[strength])
  const at = (lift: number) => drawn + (lift - mean) * spread
  return { range: { low: at(range.low), likely: at(range.likely), high: at(range.high) }, weight }
}

function total(values: readonly number[]): number {
  return values.reduce((sum, value) => sum + value, 0)
}
