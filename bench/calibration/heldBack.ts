import { rankEffects } from '../../core/analysis/effects'
import { sumOfEffects } from '../../core/analysis/sumOfEffects'
import type { Draws } from '../../core/random/draws'
import { sequentialReading, type SequentialReading } from '../../core/statistics/compareArms'
import { estimateArm } from '../../core/statistics/estimate'
import { mergeMoments, noMoments, type Moments } from '../../core/statistics/moments'
import { armShape, shortfallOf } from '../../core/statistics/shortfall'
import type { Check } from './checks'
import { drawConversions, type DrawnVisitors } from './populations'

/** Half a year of what is served to all but a twentieth. */
const WEEKS = 26
const HELD_BACK = 350
const SERVED = 6650
const RATE = 0.08
const METRICS = 10
const LEVEL = 0.05
const RUNS = 500
const PLAN = { alpha: 0.05, plannedVisitors: { control: HELD_BACK * WEEKS, variant: SERVED * WEEKS } }

interface Arm {
  moments: Moments
  active: number
}

const NOBODY: Arm = { moments: noMoments(1), active: 0 }

function withVisitors({ moments, active }: Arm, drawn: DrawnVisitors): Arm {
  return { moments: mergeMoments(moments, drawn.moments), active: active + drawn.active }
}

/** What a metric says at the end of each week, with an effect that may change from week to week. */
function* readings(
  effectOf: (week: number) => number,
  draws: Draws,
): Generator<SequentialReading & { isShort: boolean }> {
  let [control, served] = [NOBODY, NOBODY]
  for (let week = 0; week < WEEKS; week++) {
    control = withVisitors(control, drawConversions(HELD_BACK, RATE, draws))
    served = withVisitors(served, drawConversions(SERVED, RATE * (1 + effectOf(week)), draws))
    const shape = ({ moments, active }: Arm) => armShape('conversion', moments, active, NO_THIRDS)
    const isShort = shortfallOf('conversion', shape(control), shape(served)) !== null
    yield { ...sequentialReading(meanOf(control), meanOf(served), PLAN), isShort }
  }
}

const NO_THIRDS = { yyy: 0, yyz: 0, yzz: 0, zzz: 0 }

function meanOf({ moments }: Arm) {
  const { visitors, mean, variance } = estimateArm('conversion', moments)
  return { visitors, mean: mean!, variance: variance ?? 0 }
}

/** Whether the last interval of the half year holds what was true of its visitors on average. */
function coversTruth(effectOf: (week: number) => number, draws: Draws): number {
  const { interval } = [...readings(effectOf, draws)].at(-1)!.lift
  const truth = Array.from({ length: WEEKS }, (_, week) => effectOf(week)).reduce((sum, each) => sum + each, 0) / WEEKS
  return Number(interval !== null && interval[0] <= truth && truth <= interval[1])
}

/** Whether one of ten metrics that nothing moves is told to have moved, at any look of the half year. */
function tellsAnyway(draws: Draws): number {
  const all = Array.from({ length: METRICS }, () => readings(() => 0, draws))
  for (let week = 0; week < WEEKS; week++) {
    const now = all.map((own) => own.next().value as SequentialReading & { isShort: boolean })
    const effects = now.map(({ pValue, lift, isShort }) => ({ pValue, lift: lift.estimate, isShort }))
    if (rankEffects(effects, LEVEL).some(({ hasMoved }) => hasMoved)) return 1
  }
  return 0
}

const EFFECTS: readonly [name: string, effectOf: (week: number) => number][] = [
  ['no effect', () => 0],
  ['+5 %', () => 0.05],
  ['−3 %', () => -0.03],
  ['+20 % that wears off', (week) => 0.2 * Math.exp(-week / 4)],
]

/** What a half year's changes do together, each from the week on in which it was begun. */
const TOGETHER: readonly { week: number; effectOf: (weeks: number) => number }[] = [
  { week: 2, effectOf: () => 0 },
  { week: 5, effectOf: () => 0.05 },
  { week: 9, effectOf: () => -0.03 },
  { week: 13, effectOf: (weeks) => 0.2 * Math.exp(-weeks / 4) },
]
const jointEffect = (week: number) =>
  TOGETHER.reduce((all, { week: begun, effectOf }) => all * (week < begun ? 1 : 1 + effectOf(week - begun)), 1) - 1

/** Visitors of each arm of the tests that a sum of effects is made of. */
const TESTED = 14_000

/** Whether the sum of what tests found holds the sum of what is true, each having reached half of the visitors. */
function sumCovers(draws: Draws): number {
  const truths = [0, 0.05, -0.03, 0.2]
  const effects = truths.map((truth) => {
    const arms = [0, truth].map((lift) => drawConversions(TESTED, RATE * (1 + lift), draws))
    const [control, variant] = arms.map(({ moments }) => estimateArm('conversion', moments))
    const standardError = Math.sqrt((control!.variance! + variant!.variance!) / TESTED)
    return { difference: variant!.mean! - control!.mean!, standardError, visitors: 1 }
  })
  const { interval } = sumOfEffects(effects, 2, RATE, LEVEL)
  const truth = truths.reduce((sum, each) => sum + each / 2, 0)
  return Number(interval !== null && interval[0] <= truth && truth <= interval[1])
}

/** What is read of a personalization with a twentieth held back. */
export const HELD_BACK_SHARES: readonly Check[] = [
  ...EFFECTS.map(([name, effectOf]): Check => ({
    name: `5 % held back for half a year, ${name}: the interval of the lift covers it`,
    nominal: 0.95,
    bound: 'at least',
    runs: RUNS,
    simulate: (draws) => coversTruth(effectOf, draws),
  })),
  {
    name: 'a holdout of 5 % for half a year, four changes begun one after the other: the interval of the lift covers it',
    nominal: 0.95,
    bound: 'at least',
    runs: RUNS,
    simulate: (draws) => coversTruth(jointEffect, draws),
  },
  {
    name: 'the sum of what four tests found covers the sum of what is true',
    nominal: 0.95,
    bound: 'at least',
    runs: RUNS,
    simulate: sumCovers,
  },
  {
    name: `5 % held back, ${METRICS} metrics without an effect, a look a week: one is told to have moved`,
    nominal: LEVEL,
    bound: 'at most',
    runs: RUNS,
    simulate: tellsAnyway,
  },
]
