import { normalQuantile, normalUpperTail } from './distributions'
import { alphaSpentBySide, spendingBoundaries } from './groupSequential'
import { risingRoot } from './rootFinding'
import { COARSE, startWalk } from './scoreWalk'

/** A plan with an end: it spends its error until then, by the share of the planned information that is really there. */
export interface SpendingPlan {
  /** Two-sided error level in (0, 1). */
  alpha: number
}

/** What a comparison said at one look. */
export interface SpendingLook {
  /** Information 1/V there was, as a share of what is planned: above 0, above that of the look before. */
  share: number
  /** Difference of the two means in units of its standard error. */
  z: number
}

/**
 * Share of the error that is kept for the last look: with many looks its interval would else be a tenth wider than that of
 * a single look. Neither the visitors at most nor those on average become more by it; see docs/statistics.md.
 */
const KEPT_FOR_END = 0.05

/**
 * Critical values |z| at the looks that were taken. Half of the error is spent on each side, by the share of the planned
 * information; the last look of a plan spends what is left, whether less or more came than was planned.
 *
 * @param shares - of the planned information at each look, ascending, above 0
 * @param isLast - whether the plan ends with the last of them
 * @returns one value a look; Infinity where nothing is spent
 * @throws RangeError when the shares do not ascend
 * @example spendingBounds([0.5, 1], { alpha: 0.05 }, true) // about [2.979, 1.968]
 * @see Lan, DeMets (1983), Biometrika 70; Jennison, Turnbull (2000), sections 7.2 and 7.3
 */
export function spendingBounds(
  shares: readonly number[],
  { alpha }: SpendingPlan,
  isLast: boolean,
  grid?: number,
): number[] {
  const spent = shares.map((share, look) =>
    isLast && look === shares.length - 1
      ? alpha
      : (1 - KEPT_FOR_END) * alphaSpentBySide('obrien-fleming', Math.min(1, share), alpha),
  )
  return spendingBoundaries(fractionsOf(shares), spent, grid)
}

/** Shares of the last look: boundaries depend on nothing but the ratios. */
function fractionsOf(shares: readonly number[]): number[] {
  const last = shares.at(-1) ?? 1
  return shares.map((share) => share / last)
}

/** A grid that what a walk does between its looks does not slip through. */
function gridFor(shares: readonly number[]): number {
  const steps = shares.map((share, look) => 1 - (shares[look - 1] ?? 0) / share)
  return Math.max(COARSE, Math.ceil(2 / Math.sqrt(Math.min(...steps))))
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
export function repeatedPValue(looks: readonly SpendingLook[], plan: SpendingPlan, isLast: boolean): number {
  const shares = looks.map(({ share }) => share)
  const grid = gridFor(shares)
  /** How far the look that is farthest beyond its boundary lies beyond it, at an error level; it rises with the level. */
  const excess = (level: number) => {
    const bounds = spendingBounds(shares, { ...plan, alpha: level }, isLast, grid)
    return Math.max(...looks.map(({ z }, look) => Math.abs(z) - bounds[look]!))
  }
  // What the best of them would be, had it been the only one, is never much more than it is.
  const alone = Math.min(...looks.map((look, place) => levelAlone(look, isLast && place === looks.length - 1)))
  let low = { level: Math.max(LEAST_P_VALUE, alone / 2), excess: 0 }
  low.excess = excess(low.level)
  let high = low
  while (low.excess > 0) {
    if (low.level === LEAST_P_VALUE) return LEAST_P_VALUE
    high = low
    low = at(Math.max(LEAST_P_VALUE, low.level / 4), excess)
  }
  while (high.excess <= 0) {
    if (high.level === 1) return 1
    low = high
    high = at(Math.min(1, 2 * high.level), excess)
  }
  return levelBetween(low, high, excess)
}

interface LevelTried {
  level: number
  excess: number
}

const at = (level: number, excess: (level: number) => number): LevelTried => ({ level, excess: excess(level) })

/**
 * The level at which nothing is in excess any more, to 1 %, by false position over its logarithm: each try costs the
 * boundaries of all looks. An end that stays twice counts for half (Dowell, Jarratt 1971).
 */
function levelBetween(from: LevelTried, to: LevelTried, excess: (level: number) => number): number {
  let [low, high] = [from, to]
  while (high.level / low.level > 1.01) {
    const share = Number.isFinite(low.excess) ? -low.excess / (high.excess - low.excess) : 0.5
    // Never closer to an end than to be told from it.
    const step = Math.min(0.95, Math.max(0.05, share)) * Math.log(high.level / low.level)
    const middle = at(low.level * Math.exp(step), excess)
    if (middle.excess > 0) {
      high = middle
      low = { ...low, excess: low.excess / 2 }
    } else {
      low = middle
      high = { ...high, excess: high.excess / 2 }
    }
  }
  return high.level
}

const LEAST_P_VALUE = 1e-12

/** The error level at which a look crosses its boundary, with none before it. */
function levelAlone({ share, z }: SpendingLook, isLast: boolean): number {
  const tail = 2 * normalUpperTail(Math.abs(z))
  if (isLast) return tail
  const spentBySide = tail / (4 * (1 - KEPT_FOR_END))
  return Math.min(1, 4 * normalUpperTail(-normalQuantile(spentBySide) * Math.sqrt(Math.min(1, share))))
}

/**
 * Probability that a run which stops at its boundaries ends at or above what it has come to. Earlier crossings count for
 * more than later ones, on either side.
 *
 * @param looks - the last is where it stopped, or stands
 * @param bounds - critical |z| at each look
 * @param drift - the z that is expected at the last look
 * @see Tsiatis, Rosner, Mehta (1984), Exact confidence intervals following a group sequential test, Biometrics 40
 */
export function probabilityAtOrAbove(looks: readonly SpendingLook[], bounds: readonly number[], drift: number): number {
  const fractions = fractionsOf(looks.map(({ share }) => share))
  const last = looks.length - 1
  const walk = startWalk(drift, undefined, gridFor(fractions))
  let above = 0
  for (let look = 0; look < last; look++) {
    above += walk.above(fractions[look]!, bounds[look]!)
    walk.advance(fractions[look]!, bounds[look]!)
  }
  return above + walk.above(1, looks[last]!.z)
}

/**
 * The difference with its interval, adjusted for having stopped where it did: plain estimates of runs that stop early lie
 * too far out. The estimate is too high as often as too low.
 *
 * @param looks - the last is where it stopped
 * @param bounds - critical |z| at each look
 * @param alpha - two-sided error level of the interval
 * @returns the median-unbiased estimate, and the interval of the same ordering, in standard errors of the last look
 * @see Tsiatis, Rosner, Mehta (1984); Whitehead (1986) on the bias, Biometrika 73
 */
export function adjustedEstimate(
  looks: readonly SpendingLook[],
  bounds: readonly number[],
  alpha: number,
): { estimate: number; interval: [number, number] } {
  const { z } = looks.at(-1)!
  const at = (probability: number) => {
    const wanted = normalQuantile(probability)
    const offset = (truth: number) => {
      const reached = probabilityAtOrAbove(looks, bounds, z + truth)
      return normalQuantile(Math.min(1 - 1e-12, Math.max(1e-12, reached))) - wanted
    }
    return z + risingRoot(offset, wanted, 1, 1e-6)
  }
  return { estimate: at(0.5), interval: [at(alpha / 2), at(1 - alpha / 2)] }
}
