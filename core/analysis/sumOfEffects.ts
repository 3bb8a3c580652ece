import { normalQuantile } from '../statistics/distributions'
import type { Interval } from '../statistics/compareArms'

/** What one change did to a metric, measured by itself, and how many visitors got it. */
export interface SingleEffect {
  /** Of a visitor’s value, in the metric’s unit. */
  difference: number
  standardError: number
  /** Who got it. */
  visitors: number
}

/** What single effects come to together, had each done to everybody who got it what its own measurement says. */
export interface PromisedEffect {
  /** Of a visitor’s value, over all visitors, whether they got anything or not. */
  difference: number
  standardError: number
  /** Relative to the visitors who got nothing; null where their mean is zero. */
  lift: number | null
  /** Of the lift, for one look; null where it has none. */
  interval: Interval | null
}

/**
 * The sum of single effects, as a difference over all visitors: each counts by the share of the visitors who got it.
 * Effects are taken to add up and to be independent of each other; what a joint measurement differs by is what does not
 * last, does not add up, or was picked for looking good.
 *
 * @param effects - each with the visitors who got it
 * @param visitors - all visitors who might have got something, above 0
 * @param base - mean of those who got nothing
 * @param alpha - two-sided error level of the interval, in (0, 1)
 * @example sumOfEffects([{ difference: 0.01, standardError: 0.002, visitors: 500 }], 1000, 0.1, 0.05).lift // 0.05
 * @see Lee, Shen (2018), Winner's curse: bias estimation for total effects of features in online controlled experiments,
 *   KDD
 */
export function sumOfEffects(
  effects: readonly SingleEffect[],
  visitors: number,
  base: number,
  alpha: number,
): PromisedEffect {
  const difference = effects.reduce((sum, each) => sum + (each.difference * each.visitors) / visitors, 0)
  const variance = effects.reduce((sum, each) => sum + ((each.standardError * each.visitors) / visitors) ** 2, 0)
  const standardError = Math.sqrt(variance)
  if (base === 0) return { difference, standardError, lift: null, interval: null }
  const half = (normalQuantile(1 - alpha / 2) * standardError) / Math.abs(base)
  const lift = difference / base
  return { difference, standardError, lift, interval: [lift - half, lift + half] }
}
