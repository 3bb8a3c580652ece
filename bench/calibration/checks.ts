import type { Draws } from '../../core/random/draws'
import { checkAllocation } from '../../core/statistics/allocation'
import {
  compareArms,
  sequentialReading,
  type Comparison,
  type ComparisonPlan,
  type SequentialReading,
} from '../../core/statistics/compareArms'
import { estimateArm } from '../../core/statistics/estimate'
import { addVisitor, mergeMoments, noMoments, type Moments } from '../../core/statistics/moments'
import { sampleSize } from '../../core/statistics/power'
import { adjustForCovariate, compareAdjusted } from '../../core/statistics/varianceReduction'
import { isConclusion } from '../../core/verdict/reachedVerdict'
import { rehearse } from '../../core/verdict/rehearsal'
import { decide, type DecisionPlan, type VerdictKind } from '../../core/verdict/verdict'
import { ADJUSTED_PLANS } from './adjustedPlans'
import { HELD_BACK_SHARES } from './heldBack'
import { MOVING_SPLITS } from './movingSplits'
import { STOPPING_RULES } from './stoppingRules'
import { UNEQUAL_SPLITS } from './unequalSplits'
import { WATCHED_MONTHS } from './watchedMonths'
import { plannedMetric, POPULATIONS, type Population } from './populations'

const ALPHA = 0.05
const DAYS = 60
const LIFT = 0.1

/** One claim about error rates, and how to put it to the test. */
export interface Check {
  name: string
  /** What the share should be; `bound` where it may be less. */
  nominal: number
  bound: 'equal' | 'at most' | 'at least'
  /** Simulated runs, before the factor of the command line. */
  runs: number
  /** How far off it may be beside the Monte Carlo error, where the formula is known to leave something out. */
  tolerance?: number
  /** Where it may neither be less than this. */
  atLeast?: number
  /** What is simulated is a number of its own, whose mean is claimed, and not whether something happened. */
  isMean?: boolean
  /** 1 where the counted thing happened in one simulated run, else 0; or the number. */
  simulate: (draws: Draws) => number
}

/** Everything that is claimed of one population. */
function checksOf(population: Population): Check[] {
  const { name } = population
  const visitors = Math.ceil(
    sampleSize(
      { metric: plannedMetric(population), alpha: ALPHA, weights: [1, 1], looks: { rule: 'fixed' } },
      LIFT,
      0.8,
    )[0]!,
  )
  const plan: ComparisonPlan = {
    kind: population.kind,
    alpha: ALPHA,
    plannedVisitors: { control: visitors, variant: visitors },
  }
  const compare = (control: Moments, variant: Moments): Comparison =>
    compareArms(estimateArm(population.kind, control), estimateArm(population.kind, variant), plan)
  const atOnce = (lift: number, draws: Draws) =>
    compare(population.draw(visitors, 0, draws), population.draw(visitors, lift, draws))
  const covers = (interval: readonly number[] | null, truth: number) =>
    Number(interval !== null && interval[0]! <= truth && interval[1]! >= truth)
  const perDay = Math.max(1, Math.round(visitors / DAYS))
  /** Whether something held at one of the daily looks. */
  const everyDay = (lift: number, draws: Draws, happened: (reading: SequentialReading) => boolean) => {
    let [control, variant] = [noMoments(1), noMoments(1)]
    for (let day = 0; day < DAYS; day++) {
      control = mergeMoments(control, population.draw(perDay, 0, draws))
      variant = mergeMoments(variant, population.draw(perDay, lift, draws))
      if (happened(sequentialReading(armOf(control), armOf(variant), plan))) return 1
    }
    return 0
  }
  const armOf = (moments: Moments) => {
    const { visitors: count, mean, variance } = estimateArm(population.kind, moments)
    return { visitors: count, mean: mean!, variance: variance ?? 0 }
  }

  /** The verdict that stands after eight weeks, when the plan was done after four. */
  const shipsByFixedRule = (draws: Draws) => {
    const decision: DecisionPlan = {
      smallestLift: LIFT,
      alpha: ALPHA,
      rule: 'fixed',
      lossLimit: 0.005,
      leastWeeks: 2,
      longestWeeks: 8,
      plannedVisitors: 2 * visitors,
    }
    const aDay = Math.ceil(visitors / 28)
    let [control, variant] = [noMoments(1), noMoments(1)]
    let reached: VerdictKind | null = null
    for (let day = 1; day <= 56; day++) {
      control = mergeMoments(control, population.draw(aDay, 0, draws))
      variant = mergeMoments(variant, population.draw(aDay, 0, draws))
      const { lift, pValue } = compare(control, variant)
      const { kind } = decide(decision, {
        daysRun: day,
        visitors: 2 * aDay * day,
        unsound: [],
        variants: [
          {
            name: 'B',
            lift: lift.estimate,
            liftInterval: lift.interval,
            adjustedPValue: pValue ?? 1,
            relativeLoss: null,
            guardrails: [],
          },
        ],
      })
      if (reached === null && isConclusion({ kind })) reached = kind
    }
    return reached === 'ship'
  }

  return [
    {
      name: `${name}: fixed rule, one look, no effect: p < 0.05`,
      nominal: 0.05,
      bound: 'equal',
      runs: 8000,
      simulate: (draws) => Number((atOnce(0, draws).pValue ?? 1) < ALPHA),
    },
    {
      name: `${name}: sequential rule, a look every day for ${DAYS} days, no effect: p < 0.05 ever`,
      nominal: 0.05,
      bound: 'at most',
      runs: 1500,
      simulate: (draws) => everyDay(0, draws, ({ pValue }) => (pValue ?? 1) < ALPHA),
    },
    {
      name: `${name}: fixed interval of the difference covers it`,
      nominal: 0.95,
      bound: 'equal',
      runs: 8000,
      simulate: (draws) => covers(atOnce(LIFT, draws).difference.interval, LIFT * population.mean),
    },
    {
      name: `${name}: sequential interval covers the difference at every daily look`,
      nominal: 0.95,
      bound: 'at least',
      runs: 1500,
      simulate: (draws) =>
        1 -
        everyDay(LIFT, draws, ({ interval }) => interval !== null && covers(interval, LIFT * population.mean) === 0),
    },
    {
      name: `${name}: Fieller’s interval covers the lift at about 40 conversions in the control`,
      nominal: 0.95,
      bound: 'equal',
      runs: 8000,
      simulate: (draws) => {
        const few = Math.ceil(40 / Math.min(population.mean, 0.05))
        const { lift } = compare(population.draw(few, 0, draws), population.draw(few, LIFT, draws))
        // No bounds is an interval that covers everything.
        return lift.interval === null ? 1 : covers(lift.interval, LIFT)
      },
    },
    {
      name: `${name}: power of the fixed rule at the planned size${population.kind === 'mean' ? ' (whose formula leaves out that more buyers vary more)' : ''}`,
      nominal: 0.8,
      bound: 'equal',
      runs: 8000,
      ...(population.kind === 'mean' ? { tolerance: 0.03 } : {}),
      simulate: (draws) => Number((atOnce(LIFT, draws).pValue ?? 1) < ALPHA),
    },
    {
      name: `${name}: the fixed rule ships something without an effect, on some morning of eight weeks with its end after four`,
      nominal: 0.025,
      bound: 'at most',
      runs: 3000,
      simulate: (draws) => Number(shipsByFixedRule(draws)),
    },
    {
      name: `${name}: the verdict ships something without an effect`,
      nominal: 0.025,
      bound: 'at most',
      runs: 1500,
      simulate: (draws) =>
        rehearse(
          {
            decision: {
              smallestLift: LIFT,
              alpha: ALPHA,
              rule: 'sequential',
              lossLimit: 0.005,
              leastWeeks: 1,
              longestWeeks: 8,
              plannedVisitors: 2 * visitors,
            },
            weights: [1, 1],
            primary: { metric: plannedMetric(population), direction: 'up' },
            guardrails: [],
            newVisitors: [(2 * visitors) / 56],
            runs: 1,
            lifts: [0],
          },
          draws,
        )[0]!.shippedWrong,
    },
  ]
}

/** What is claimed whatever the metric. */
const GENERAL_CHECKS: readonly Check[] = [
  {
    name: 'variance reduction, no effect: p < 0.05',
    nominal: 0.05,
    bound: 'equal',
    runs: 3000,
    simulate: (draws) => Number(adjusted(0, draws).pValue! < ALPHA),
  },
  {
    name: 'variance reduction: interval covers the difference',
    nominal: 0.95,
    bound: 'equal',
    runs: 3000,
    simulate(draws) {
      const { difference } = adjusted(0.3, draws)
      return Number(difference.interval![0] <= 0.3 && difference.interval![1] >= 0.3)
    },
  },
  {
    name: 'allocation alarm, a look after every 20 visitors up to 20,000, sound split',
    nominal: 0.001,
    bound: 'at most',
    runs: 4000,
    simulate(draws) {
      const counts = [0, 0]
      for (let look = 0; look < 1000; look++) {
        const first = draws.binomial(20, 0.5)
        counts[0]! += first
        counts[1]! += 20 - first
        if (checkAllocation(counts, [1, 1]).alarm) return 1
      }
      return 0
    },
  },
  {
    name: 'allocation alarm within 20,000 visitors, 6 % of one arm lost',
    nominal: 0.5,
    bound: 'at least',
    runs: 500,
    simulate: (draws) => {
      const counts = [0, 0]
      for (let look = 0; look < 200; look++) {
        const first = draws.binomial(100, 0.5)
        counts[0]! += first
        counts[1]! += draws.binomial(100 - first, 0.94)
        if (checkAllocation(counts, [1, 1]).alarm) return 1
      }
      return 0
    },
  },
]

/** Two arms of 400 visitors whose past explains half of the variance. */
function adjusted(effect: number, draws: Draws) {
  const arms = [0, effect].map((shift) => {
    const moments = noMoments(2)
    for (let visitor = 0; visitor < 400; visitor++) {
      const past = Math.exp(draws.normal(0, 0.7))
      addVisitor(moments, [past + shift + draws.normal(0, 0.9), past])
    }
    return moments
  })
  return compareAdjusted('mean', adjustForCovariate('mean', arms), 0, 1, ALPHA)
}

export const CHECKS: readonly Check[] = [
  ...POPULATIONS.flatMap(checksOf),
  ...GENERAL_CHECKS,
  ...STOPPING_RULES,
  ...ADJUSTED_PLANS,
  ...MOVING_SPLITS,
  ...WATCHED_MONTHS,
  ...UNEQUAL_SPLITS,
  ...HELD_BACK_SHARES,
]
