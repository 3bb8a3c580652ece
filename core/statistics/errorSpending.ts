import { normalQuantile } from './distributions'
import { alphaSpent, spendingBoundaries, type Spending } from './groupSequential'
import { risingRoot } from './rootFinding'
import { COARSE, startWalk } from './scoreWalk'

/** A plan with an end: it spends its error until then, by the information that is really there. */
export interface SpendingPlan {
  /** Two-sided error level in (0, 1). */
  alpha: number
  /** Information 1/V of the difference that is expected at the planned end, above 0. */
  plannedInformation: number
  spending?: Spending
}

/** What a comparison said at one look. */
export interface TakenLook {
  /** Information 1/V of the difference, above that of the look before. */
  information: number
  /** Difference of the two means. */
  difference: number
}

/**
 * Critical values |z| at the looks that were taken. What is spent goes by the share of the planned information; the last
 * look of a plan spends what is left, where less came than was planned. Beyond the planned information nothing is left.
 *
 * @param informations - at each look, ascending, above 0
 * @param isLast - whether the plan ends with the last of them
 * @returns one value a look; Infinity where nothing is spent
 * @throws RangeError when the information does not ascend
 * @example spendingBounds([50, 100], { alpha: 0.05, plannedInformation: 100 }, true) // about [2.963, 1.969]
 * @see Lan, DeMets (1983), Biometrika 70; Jennison, Turnbull (2000), sections 7.2 and 7.3
 */
export function spendingBounds(
  informations: readonly number[],
  { alpha, plannedInformation, spending = 'obrien-fleming' }: SpendingPlan,
  isLast: boolean,
  grid?: number,
): number[] {
  const spent = informations.map((information, look) =>
    isLast && look === informations.length - 1
      ? alpha
      : alphaSpent(spending, Math.min(1, information / plannedInformation), alpha),
  )
  return spendingBoundaries(fractionsOf(informations), spent, grid)
}

/** Shares of the last information: boundaries depend on nothing but the ratios. */
function fractionsOf(informations: readonly number[]): number[] {
  const last = informations.at(-1) ?? 1
  return informations.map((information) => information / last)
}

/** z at each look. */
function scoresOf(looks: readonly TakenLook[]): number[] {
  return looks.map(({ information, difference }) => difference * Math.sqrt(information))
}

/**
 * The repeated p-value: the smallest error level at which one of the looks so far would have crossed its boundary. It may
 * be read at every look.
 *
 * @param looks - at least one
 * @param isLast - whether the plan ends with the last of them
 * @returns in (0, 1], exact to about 1 %
 * @see Jennison, Turnbull (2000), section 9.5
 */
export function repeatedPValue(looks: readonly TakenLook[], plan: SpendingPlan, isLast: boolean): number {
  const reached = scoresOf(looks).map(Math.abs)
  const informations = looks.map(({ information }) => information)
  const crosses = (level: number) =>
    spendingBounds(informations, { ...plan, alpha: level }, isLast, COARSE).some(
      (bound, look) => reached[look]! > bound,
    )
  // No look is better than a single one of its own.
  let [low, high] = [Math.log(1e-12), 0]
  if (crosses(1e-12)) return 1e-12
  while (high - low > 0.01) {
    const middle = (low + high) / 2
    if (crosses(Math.exp(middle))) high = middle
    else low = middle
  }
  return Math.min(1, Math.exp(high))
}

/**
 * Probability that a run which stops at its boundaries ends at or above what it has come to, where the difference is
 * really so large. Earlier crossings count for more than later ones, on either side.
 *
 * @param looks - the last is where it stopped, or stands
 * @param bounds - critical |z| at each look
 * @param difference - the true one
 * @see Tsiatis, Rosner, Mehta (1984), Exact confidence intervals following a group sequential test, Biometrics 40
 */
export function probabilityAtOrAbove(
  looks: readonly TakenLook[],
  bounds: readonly number[],
  difference: number,
): number {
  const fractions = fractionsOf(looks.map(({ information }) => information))
  const last = looks.length - 1
  const walk = startWalk(difference * Math.sqrt(looks[last]!.information), undefined, COARSE)
  let above = 0
  for (let look = 0; look < last; look++) {
    above += walk.above(fractions[look]!, bounds[look]!)
    walk.advance(fractions[look]!, bounds[look]!)
  }
  return above + walk.above(1, scoresOf(looks)[last]!)
}

/**
 * The difference with its interval, adjusted for having stopped where it did: plain estimates of runs that stop early lie
 * too far out. The estimate is too high as often as too low.
 *
 * @param looks - the last is where it stopped
 * @param bounds - critical |z| at each look
 * @param alpha - two-sided error level of the interval
 * @returns the median-unbiased estimate, and the interval of the same ordering
 * @see Tsiatis, Rosner, Mehta (1984); Whitehead (1986) on the bias, Biometrika 73
 */
export function adjustedEstimate(
  looks: readonly TakenLook[],
  bounds: readonly number[],
  alpha: number,
): { estimate: number; interval: [number, number] } {
  const { information, difference } = looks.at(-1)!
  const standardError = 1 / Math.sqrt(information)
  const at = (probability: number) => {
    const wanted = normalQuantile(probability)
    const offset = (truth: number) => {
      const reached = probabilityAtOrAbove(looks, bounds, difference + truth * standardError)
      return normalQuantile(Math.min(1 - 1e-12, Math.max(1e-12, reached))) - wanted
    }
    return difference + standardError * risingRoot(offset, wanted, 1, 1e-6)
  }
  return { estimate: at(0.5), interval: [at(alpha / 2), at(1 - alpha / 2)] }
}
