import type { Draws } from '../../core/random/draws'
import { normalQuantile } from '../../core/statistics/distributions'
import {
  adjustedEstimate,
  probabilityAtOrAbove,
  spendingBounds,
  type SpendingLook,
} from '../../core/statistics/errorSpending'
import { estimateArm } from '../../core/statistics/estimate'
import { mixtureBoundaries } from '../../core/statistics/groupSequential'
import { mergeMoments, noMoments } from '../../core/statistics/moments'
import { sampleSize, type LookPlan } from '../../core/statistics/power'
import type { Check } from './checks'
import { plannedMetric, POPULATIONS, type Population } from './populations'

const ALPHA = 0.05
const LOOKS = 60
const LIFT = 0.1
const SHARES = Array.from({ length: LOOKS }, (_, look) => (look + 1) / LOOKS)

/** A rule that stops a run, by what it takes at each of sixty daily looks. */
interface StoppingRule {
  name: string
  looks: LookPlan
  /** Critical |z| at each look, for one comparison at an error level. */
  bounds: (alpha: number) => number[]
}

const RULES: readonly StoppingRule[] = [
  {
    name: 'spending until the end',
    looks: { rule: 'spending', looks: LOOKS, from: 1 / LOOKS },
    bounds: (alpha) => spendingBounds(SHARES, { alpha }, true),
  },
  {
    name: 'sequential (mixture)',
    looks: { rule: 'sequential', looks: LOOKS },
    bounds: (alpha) => mixtureBoundaries(SHARES, alpha),
  },
  {
    name: 'fixed (one look)',
    looks: { rule: 'fixed' },
    bounds: (alpha) => SHARES.map((share) => (share === 1 ? normalQuantile(1 - alpha / 2) : Infinity)),
  },
]
const SPENDING = RULES[0]!

const conversion: Population = {
  ...POPULATIONS[0]!,
  name: 'conversion 2 %',
  mean: 0.02,
  deviation: Math.sqrt(0.02 * 0.98),
  draw: (visitors, lift, draws) => POPULATIONS[0]!.draw(visitors, 2 * (1 + lift) - 1, draws),
}
const SKEWED = POPULATIONS.find(({ kind }) => kind === 'mean')!

/** Where a run stopped: at the first look at which some variant crossed, or at the end. */
interface Stopped {
  look: number
  hasCrossed: boolean
  /** Of the first variant, at each look until then. */
  looks: SpendingLook[]
  lift: number
  standardError: number
  controlMean: number
}

/** The first variant has the lift, further ones have none. */
function stoppedRun(
  population: Population,
  perArm: number,
  variants: number,
  lift: number,
  bounds: readonly number[],
  draws: Draws,
): Stopped {
  const arms = Array.from({ length: variants + 1 }, () => noMoments(1))
  const looks: SpendingLook[] = []
  for (let look = 0; ; look++) {
    const aDay = Math.round((perArm * (look + 1)) / LOOKS) - Math.round((perArm * look) / LOOKS)
    arms.forEach((arm, position) => {
      arms[position] = mergeMoments(arm, population.draw(aDay, position === 1 ? lift : 0, draws))
    })
    const [control, ...others] = arms.map((arm) => estimateArm(population.kind, arm))
    const errors = others.map(({ variance, visitors }) =>
      Math.sqrt((variance ?? 0) / visitors + (control!.variance ?? 0) / control!.visitors),
    )
    const scores = others.map(({ mean }, index) => (errors[index]! > 0 ? (mean! - control!.mean!) / errors[index]! : 0))
    looks.push({ share: SHARES[look]!, z: scores[0]! })
    const hasCrossed = scores.some((z) => Math.abs(z) > bounds[look]!)
    if (hasCrossed || look === LOOKS - 1)
      return {
        look,
        hasCrossed,
        looks,
        lift: others[0]!.mean! / control!.mean! - 1,
        standardError: errors[0]!,
        controlMean: control!.mean!,
      }
  }
}

/** Computed once in a process: boundaries and sizes take longer than a run. */
const once = <Value>(compute: () => Value) => {
  let value: { of: Value } | null = null
  return () => (value ??= { of: compute() }).of
}

const sizeOf = (population: Population, variants: number, looks: LookPlan, power: number) =>
  sampleSize(
    { metric: plannedMetric(population), alpha: ALPHA, weights: new Array<number>(variants + 1).fill(1), looks },
    LIFT,
    power,
  )[0]!

/** Without an effect: how often some variant is told to differ. With several, the closed test of them all. */
function falsePositives(rule: StoppingRule, population: Population, variants: number): Check {
  const bounds = once(() => rule.bounds(ALPHA / variants))
  const perArm = once(() => sizeOf(population, variants, { rule: 'fixed' }, 0.8))
  const isSpending = rule === SPENDING
  return {
    name: `${rule.name}: ${LOOKS} daily looks, ${variants + 1} arms, ${population.name}, no effect: some variant is told to differ`,
    nominal: isSpending ? 0.052 : 0.05,
    ...(isSpending ? { atLeast: 0.04 } : {}),
    bound: 'at most',
    runs: 6000,
    simulate: (draws) => Number(stoppedRun(population, perArm(), variants, 0, bounds(), draws).hasCrossed),
  }
}

/** Visitors until it stops, as a share of what one look of the same power takes. */
function visitorsOfOneLook(rule: StoppingRule, power: number, most: number): Check {
  const bounds = once(() => rule.bounds(ALPHA))
  const perArm = once(() => sizeOf(conversion, 1, rule.looks, power))
  const ofOneLook = once(() => sizeOf(conversion, 1, { rule: 'fixed' }, power))
  return {
    name: `${rule.name}: visitors at the smallest worthwhile lift, in those of one look of ${power * 100} % power`,
    nominal: most,
    bound: 'at most',
    isMean: true,
    runs: 4000,
    simulate: (draws) =>
      (stoppedRun(conversion, perArm(), 1, LIFT, bounds(), draws).look + 1) * (perArm() / LOOKS / ofOneLook()),
  }
}

/** At most so many visitors, in those of one look. */
function mostVisitors(rule: StoppingRule, power: number, most: number): Check {
  return exactly(
    `${rule.name}: visitors at the end, in those of one look of ${power * 100} % power`,
    most,
    () => sizeOf(conversion, 1, rule.looks, power) / sizeOf(conversion, 1, { rule: 'fixed' }, power),
  )
}

function exactly(name: string, most: number, compute: () => number): Check {
  const value = once(compute)
  return { name, nominal: most, bound: 'at most', isMean: true, runs: 8, simulate: value }
}

const isPowerReached = (power: number): Check => {
  const bounds = once(() => SPENDING.bounds(ALPHA))
  const perArm = once(() => sizeOf(conversion, 1, SPENDING.looks, power))
  return {
    name: `${SPENDING.name}: power at the planned size, ${power * 100} %`,
    nominal: power,
    bound: 'equal',
    runs: 4000,
    simulate: (draws) => Number(stoppedRun(conversion, perArm(), 1, LIFT, bounds(), draws).hasCrossed),
  }
}

/** Where the true lift lies among what a run that stopped holds for possible: above half of it half of the time. */
function placeOfTruth({ looks, standardError, controlMean }: Stopped, bounds: readonly number[]): number {
  return probabilityAtOrAbove(looks, bounds.slice(0, looks.length), (LIFT * controlMean) / standardError)
}

function adjustedLift({ looks, standardError, controlMean }: Stopped, bounds: readonly number[]): number {
  return (adjustedEstimate(looks, bounds.slice(0, looks.length), ALPHA).estimate * standardError) / controlMean
}

function ofStopped(
  what: string,
  claim: Pick<Check, 'nominal' | 'bound' | 'isMean' | 'tolerance' | 'runs'>,
  read: (stopped: Stopped, bounds: readonly number[]) => number,
): Check {
  const bounds = once(() => SPENDING.bounds(ALPHA))
  const perArm = once(() => sizeOf(conversion, 1, SPENDING.looks, 0.8))
  return {
    name: `${SPENDING.name}: ${what}`,
    ...claim,
    simulate: (draws) => read(stoppedRun(conversion, perArm(), 1, LIFT, bounds(), draws), bounds()),
  }
}

/** The rules side by side, with a look on each of sixty days. */
export const STOPPING_RULES: readonly Check[] = [
  ...RULES.flatMap((rule) =>
    [conversion, SKEWED].flatMap((population) => [1, 2].map((variants) => falsePositives(rule, population, variants))),
  ),
  visitorsOfOneLook(SPENDING, 0.8, 0.8),
  visitorsOfOneLook(SPENDING, 0.9, 0.72),
  visitorsOfOneLook(RULES[1]!, 0.8, 1.25),
  visitorsOfOneLook(RULES[1]!, 0.9, 1.25),
  mostVisitors(SPENDING, 0.8, 1.08),
  mostVisitors(SPENDING, 0.9, 1.08),
  mostVisitors(RULES[1]!, 0.8, 2),
  mostVisitors(RULES[1]!, 0.9, 2),
  ...RULES.map((rule) =>
    exactly(
      `${rule.name}: interval at the planned end, in that of one look`,
      rule === RULES[1] ? 1.7 : 1.1,
      () => rule.bounds(ALPHA).at(-1)! / normalQuantile(1 - ALPHA / 2),
    ),
  ),
  isPowerReached(0.8),
  isPowerReached(0.9),
  ofStopped(
    'the adjusted interval covers the lift',
    { nominal: 0.95, bound: 'equal', runs: 1200 },
    (stopped, bounds) => {
      const place = placeOfTruth(stopped, bounds)
      return Number(place > ALPHA / 2 && place < 1 - ALPHA / 2)
    },
  ),
  ofStopped(
    'the adjusted lift lies above the true one',
    { nominal: 0.5, bound: 'equal', runs: 1200 },
    (stopped, bounds) => Number(placeOfTruth(stopped, bounds) < 0.5),
  ),
  ofStopped(
    'the adjusted lift on average, in the true one',
    { nominal: 1, bound: 'equal', isMean: true, tolerance: 0.08, runs: 300 },
    (stopped, bounds) => adjustedLift(stopped, bounds) / LIFT,
  ),
  ofStopped(
    'the plain lift on average, in the true one: overstated',
    { nominal: 1.1, bound: 'at least', isMean: true, runs: 4000 },
    ({ lift }) => lift / LIFT,
  ),
]
