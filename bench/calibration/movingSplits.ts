import { nextShares } from '../../core/allocation/nextShares'
import { mixedMoments, weightedMoments, type AllocationPeriod } from '../../core/allocation/period'
import type { Draws } from '../../core/random/draws'
import { normalQuantile } from '../../core/statistics/distributions'
import { spendingBounds } from '../../core/statistics/errorSpending'
import { conversionMoments, noMoments, sampleVariance, type Moments } from '../../core/statistics/moments'
import type { Check } from './checks'

const ALPHA = 0.05
const DAYS = 14
const A_DAY = 1000
const RATE = 0.05
const FLOOR = 0.1
/** What sells well on some days and hardly on others. */
const SEASON = [1, 1.1, 0.9, 1, 1.2, 1.8, 2]

interface OfferedRun {
  periods: AllocationPeriod[]
  /** Conversions that a run with only the best arm would have had more, for a thousand visitors. */
  regret: number
}

/** A run of some days, each of which is a period; the first has equal shares. */
function runOffer(rates: readonly number[], isMoving: boolean, isSeasonal: boolean, draws: Draws): OfferedRun {
  const periods: AllocationPeriod[] = []
  let shares = rates.map(() => 1 / rates.length)
  let lost = 0
  for (let day = 0; day < DAYS; day++) {
    const season = isSeasonal ? SEASON[day % 7]! : 1
    const visitors = splitBy(A_DAY, shares, draws)
    periods.push({
      shares,
      arms: visitors.map((count, arm) => conversionMoments(count, draws.binomial(count, rates[arm]! * season))),
    })
    visitors.forEach((count, arm) => (lost += count * season * (Math.max(...rates) - rates[arm]!)))
    if (isMoving) shares = sharesAfter(periods) ?? shares
  }
  return { periods, regret: (1000 * lost) / (DAYS * A_DAY) }
}

function sharesAfter(periods: readonly AllocationPeriod[]): number[] | null {
  const plain = mixedMoments(periods, 1)
  const active = plain.reduce((sum, { count, means }) => sum + count * means[0]!, 0)
  return nextShares(weightedMoments(periods), plain, active, FLOOR, 'up')?.shares ?? null
}

function splitBy(visitors: number, shares: readonly number[], draws: Draws): number[] {
  let left = visitors
  let shareLeft = 1
  return shares.map((share, arm) => {
    const own = arm === shares.length - 1 ? left : draws.binomial(left, Math.min(1, share / shareLeft))
    left -= own
    shareLeft -= share
    return own
  })
}

/** The last arm against the first: difference of rates and its standard error. */
function compare(arms: readonly Moments[]): { difference: number; error: number } {
  const [control, variant] = [arms[0] ?? noMoments(1), arms.at(-1) ?? noMoments(1)]
  return {
    difference: variant.means[0]! - control.means[0]!,
    error: Math.sqrt(sampleVariance(control) / control.count + sampleVariance(variant) / variant.count),
  }
}

const QUANTILE = normalQuantile(1 - ALPHA / 2)
const isCovered = (arms: readonly Moments[], truth: number) => {
  const { difference, error } = compare(arms)
  return Number(Math.abs(difference - truth) <= QUANTILE * error)
}
/** Looks on each day of the second week, by the share of the planned visitors. */
const LOOKED = Array.from({ length: DAYS / 2 }, (_, look) => DAYS / 2 + look + 1)
const BOUNDS = spendingBounds(
  LOOKED.map((day) => day / DAYS),
  { alpha: ALPHA },
  true,
)
const crosses = ({ periods }: OfferedRun) =>
  Number(
    LOOKED.some((day, look) => {
      const { difference, error } = compare(weightedMoments(periods.slice(0, day)))
      return Math.abs(difference) > BOUNDS[look]! * error
    }),
  )
const season = SEASON.reduce((sum, each) => sum + each, 0) / SEASON.length
const EQUAL = [RATE, RATE]
const BETTER = [RATE, RATE * 1.2]
const THREE = [RATE, RATE * 0.9, RATE * 1.2]

/** Offers that run out in days, with a split that moves to the better arm. */
export const MOVING_SPLITS: readonly Check[] = [
  {
    name: 'moving split: 14 daily periods, two arms, no effect: told to differ by one look at the end',
    nominal: ALPHA,
    bound: 'equal',
    tolerance: 0.01,
    runs: 3000,
    simulate: (draws) => 1 - isCovered(weightedMoments(runOffer(EQUAL, true, false, draws).periods), 0),
  },
  {
    name: 'the same with rates that double on weekends',
    nominal: ALPHA,
    bound: 'equal',
    tolerance: 0.01,
    runs: 3000,
    simulate: (draws) => 1 - isCovered(weightedMoments(runOffer(EQUAL, true, true, draws).periods), 0),
  },
  {
    name: 'moving split, a fifth better: the interval covers the difference',
    nominal: 1 - ALPHA,
    bound: 'equal',
    tolerance: 0.01,
    runs: 3000,
    simulate: (draws) => isCovered(weightedMoments(runOffer(BETTER, true, false, draws).periods), RATE * 0.2),
  },
  {
    name: 'the same with three arms, the middle one a tenth worse',
    nominal: 1 - ALPHA,
    bound: 'equal',
    tolerance: 0.01,
    runs: 3000,
    simulate: (draws) => isCovered(weightedMoments(runOffer(THREE, true, false, draws).periods), RATE * 0.2),
  },
  {
    name: 'moving split, planned end with seven daily looks, no effect: told to differ',
    nominal: ALPHA,
    bound: 'equal',
    tolerance: 0.01,
    runs: 3000,
    simulate: (draws) => crosses(runOffer(EQUAL, true, false, draws)),
  },
  ...([true, false] as const).flatMap((isMoving): Check[] => [
    {
      name: `${isMoving ? 'moving' : 'fixed'} split, a fifth better: conversions of a thousand that the best alone would have had more`,
      nominal: isMoving ? 3 : 5,
      bound: 'at most',
      isMean: true,
      runs: 2000,
      simulate: (draws) => runOffer(BETTER, isMoving, false, draws).regret,
    },
    {
      name: `${isMoving ? 'moving' : 'fixed'} split, three arms: conversions of a thousand that the best alone would have had more`,
      nominal: isMoving ? 5 : 8.4,
      bound: 'at most',
      isMean: true,
      runs: 2000,
      simulate: (draws) => runOffer(THREE, isMoving, false, draws).regret,
    },
    {
      name: `${isMoving ? 'moving' : 'fixed'} split, a fifth better: standard error of the difference, in points`,
      nominal: 0.6,
      bound: 'at most',
      isMean: true,
      runs: 2000,
      simulate: (draws) => 100 * compare(weightedMoments(runOffer(BETTER, isMoving, false, draws).periods)).error,
    },
  ]),
  {
    name: 'moving split with rates that double on weekends, taken together as one: coverage is lost',
    nominal: 0.94,
    bound: 'at most',
    runs: 2000,
    simulate: (draws) => isCovered(mixedMoments(runOffer(BETTER, true, true, draws).periods, 1), RATE * season * 0.2),
  },
]
