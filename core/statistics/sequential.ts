import { lambertWLower } from './lambertW'

/**
 * The mixture parameter ρ that makes the confidence sequence narrowest at the planned end.
 *
 * @param plannedInformation - I*, the information 1/V expected at the end of the run, above 0
 * @param alpha - two-sided error level, in (0, 1)
 * @see Howard, Ramdas, McAuliffe, Sekhon (2021), Time-uniform Chernoff bounds, eq. 3.13
 */
export function mixtureParameter(plannedInformation: number, alpha: number): number {
  if (alpha !== lastFactor.alpha) lastFactor = { alpha, factor: -lambertWLower(-(alpha * alpha) / Math.E) - 1 }
  return plannedInformation / lastFactor.factor
}

/** Rehearsals ask for the same error level millions of times. */
let lastFactor = { alpha: NaN, factor: NaN }

/**
 * Half-width of the always-valid interval of a difference, valid at every look.
 *
 * @param information - I = 1/V now, above 0
 * @param rho - from `mixtureParameter`
 * @param alpha - two-sided error level
 * @see Robbins (1970), Statistical methods related to the law of the iterated logarithm;
 *   Waudby-Smith et al. (2021), Time-uniform central limit theory, eq. 12
 */
export function sequentialHalfWidth(information: number, rho: number, alpha: number): number {
  const total = information + rho
  return Math.sqrt(total * Math.log(total / (rho * alpha * alpha))) / information
}

/**
 * Always-valid p-value of one look: 1/Λ, at most 1. Over several looks, take the smallest.
 *
 * @param difference - estimated difference δ
 * @param information - I = 1/V
 * @param rho - from `mixtureParameter`
 */
export function sequentialPValue(difference: number, information: number, rho: number): number {
  const logLambda =
    Math.log(rho / (information + rho)) / 2 +
    (information * information * difference * difference) / (2 * (information + rho))
  return Math.min(1, Math.exp(-logLambda))
}
