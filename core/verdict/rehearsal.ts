import type { Draws } from '../random/draws'
import { nextShares } from '../allocation/nextShares'
import { mixedMoments, weightedMoments, type AllocationPeriod } from '../allocation/period'
import type { Split } from '../sheet/content'
import { ALLOCATION_ALARM, logAllocationFactor } from '../statistics/allocation'
import { sequentialReading, type Interval } from '../statistics/compareArms'
import { normalQuantile, normalUpperTail } from '../statistics/distributions'
import { fiellerInterval } from '../statistics/fieller'
import { spendingBounds } from '../statistics/errorSpending'
import { holm } from '../statistics/holm'
import { comparePosteriors, type Direction } from '../statistics/posterior'
import { conversionMoments, momentsOfMean, sampleVariance } from '../statistics/moments'
import type { PlannedMetric } from '../statistics/power'
import { armShape, shortfallOf, type Shortfall } from '../statistics/shortfall'
import { LEAST_STEP } from './plannedLooks'
import { decide, type DecisionPlan, type VariantState, type VerdictKind } from './verdict'

export interface RehearsedMetric {
  metric: PlannedMetric
  direction: Direction
}

export interface RehearsalPlan {
  decision: DecisionPlan
  /** Weights of control and variants, all above 0. */
  weights: readonly number[]
  primary: RehearsedMetric
  /** Guardrails, which the variants do not change in a rehearsal. */
  guardrails: readonly (RehearsedMetric & { name: string; limit: number })[]
  /** New visitors on each day of the run; later days repeat the last week. */
  newVisitors: readonly number[]
  /** Of a split that moves: what each arm keeps, and after how many visitors it moves; null for each day. */
  moving?: { leastShare: number; batchVisitors: number | null }
  /** Simulated runs of each scenario, at least 1. */
  runs: number
  /** Relative lifts to the better that the first variant truly has, one for each scenario; the others have none. */
  lifts: readonly number[]
}

/** What came of the simulated runs with one true lift. */
export interface RehearsalScenario {
  lift: number
  /** Share of the runs that ended with each verdict; a run ends with the first that is neither "too early" nor "go on". */
  shares: Record<Exclude<VerdictKind, 'early' | 'go-on'>, number>
  /** Share of the runs that shipped a variant without a lift. */
  shippedWrong: number
  /**
   * Days until the run was over, on average; and the days by which half and nine tenths of all runs had a verdict. Left
   * open is none: null where fewer runs ever had one.
   */
  days: { mean: number; half: number | null; nineTenths: number | null }
  /** Visitors until the verdict, on average. */
  visitors: number
  /** What a thousand visitors would have brought more of the primary metric, had all of them got the best arm. */
  lost: number
}

/** The scenarios that tell a plan's quality: no lift, half of the smallest worthwhile one, it, and twice it. */
export function scenariosOf(smallestLift: number): number[] {
  return [0, smallestLift / 2, smallestLift, 2 * smallestLift]
}

/**
 * Simulates a decision plan: how often would it say what, and when?
 *
 * Every day new visitors come, are split by chance and convert by chance; then the plan is asked. Sums of a mean's
 * day are drawn from the normal distribution with the given deviation: how skewed the values are is left out. The
 * low-risk rule takes the normal posterior.
 *
 * @param plan - decision plan, weights, what visitors are like, and how many come
 * @param draws - from a seeded generator
 * @param onProgress - told the share of runs done, now and then
 * @returns one scenario for each lift, in their order
 * @throws RangeError where nobody comes, or a lifted rate leaves (0, 1)
 */
export function rehearse(
  plan: RehearsalPlan,
  draws: Draws,
  onProgress: (share: number) => void = () => {},
): RehearsalScenario[] {
  if (!(plan.newVisitors.slice(-7).reduce((sum, count) => sum + count, 0) > 0))
    throw new RangeError('A rehearsal needs new visitors every week.')
  for (const lift of plan.lifts) {
    const { metric } = plan.primary
    if (metric.kind === 'conversion' && !(metric.baseline * (1 + trueLift(plan, lift)) < 1))
      throw new RangeError('The lifted rate must lie below 100 %. Take a smaller lift or baseline.')
  }
  const looks = plan.decision.rule === 'spending' ? plannedLooksOf(plan) : NO_LOOKS
  const everyRuns = Math.max(1, Math.floor(plan.runs / 50))
  return plan.lifts.map((lift, scenario) => {
    const ends: RunEnd[] = []
    for (let run = 0; run < plan.runs; run++) {
      ends.push(simulateRun(plan, looks, lift, draws))
      if (run % everyRuns === 0) onProgress((scenario + run / plan.runs) / plan.lifts.length)
    }
    return summarize(lift, ends)
  })
}

/** What came of a plan under one rule. */
export interface RehearsedRule {
  rule: DecisionPlan['rule']
  split: Split
  scenarios: RehearsalScenario[]
}

/**
 * The same plan under several rules, side by side: each meets the same simulated visitors. Where its split moves, each
 * rule stands beside itself with the split as it was set.
 *
 * @param drawsOf - a generator that begins anew
 * @param onProgress - told the share of all runs done, now and then
 * @throws RangeError as `rehearse` does
 */
export function compareRules(
  plan: RehearsalPlan,
  rules: readonly DecisionPlan['rule'][],
  drawsOf: () => Draws,
  onProgress: (share: number) => void = () => {},
): RehearsedRule[] {
  const compared = rules.flatMap((rule): Pick<RehearsedRule, 'rule' | 'split'>[] =>
    plan.moving
      ? [
          { rule, split: 'moving' },
          { rule, split: 'set' },
        ]
      : [{ rule, split: 'set' }],
  )
  return compared.map(({ rule, split }, place) => ({
    rule,
    split,
    scenarios: rehearse(
      {
        ...plan,
        decision: { ...plan.decision, rule },
        moving: split === 'moving' ? plan.moving : undefined,
      },
      drawsOf(),
      (share) => onProgress((place + share) / compared.length),
    ),
  }))
}

/** The looks of a plan that spends its error until its end, by the day of the run. */
type PlannedDays = ReadonlyMap<number, PlannedDay>
interface PlannedDay {
  isLast: boolean
  /** Critical |z| at the whole error level, at half of it, a third, and so on for each variant. */
  bounds: number[]
}
const NO_LOOKS: PlannedDays = new Map()

/** Visitors come as they are expected, so that every simulated run has the same looks. */
function plannedLooksOf({ decision, weights, newVisitors }: RehearsalPlan): PlannedDays {
  const days: number[] = []
  const shares: number[] = []
  let visitors = 0
  for (let day = 1; day <= decision.longestWeeks * 7 && visitors < decision.plannedVisitors; day++) {
    visitors += arrivalsOn(newVisitors, day - 1)
    const isEnd = day === decision.longestWeeks * 7 || visitors >= decision.plannedVisitors
    const share = visitors / decision.plannedVisitors
    const isNear = () => share - (shares.at(-1) ?? 0) < LEAST_STEP
    if (day < decision.leastWeeks * 7 && !isEnd) continue
    if (isNear() && !isEnd) continue
    if (isNear() && days.length > 0) {
      days.pop()
      shares.pop()
    }
    days.push(Math.max(day, decision.leastWeeks * 7))
    shares.push(share)
  }
  const byLevel = weights
    .slice(1)
    .map((_, variants) => spendingBounds(shares, { alpha: decision.alpha / (variants + 1) }, true))
  return new Map(
    days.map((day, look) => [
      day,
      { isLast: look === days.length - 1, bounds: byLevel.map((bounds) => bounds[look]!) },
    ]),
  )
}

interface RunEnd {
  kind: VerdictKind
  position: number | null
  day: number
  visitors: number
  lost: number
}

/** Sums of one arm so far. */
interface SimulatedArm {
  visitors: number
  /** Sum of the values of each metric, the primary first. */
  sums: number[]
}

function simulateRun(plan: RehearsalPlan, looks: PlannedDays, lift: number, draws: Draws): RunEnd {
  const { decision, weights } = plan
  const metrics = [plan.primary, ...plan.guardrails]
  const nobody = () => weights.map((): SimulatedArm => ({ visitors: 0, sums: metrics.map(() => 0) }))
  const arms = nobody()
  const periods: SimulatedPeriod[] = [{ shares: sharesOf(weights), arms: nobody() }]
  const lastDay = decision.longestWeeks * 7
  const losses = weights.map((_, position) => lossOf(plan, lift, position))
  const change = trueLift(plan, lift)
  let visitors = 0
  let lost = 0
  for (let day = 1; day <= lastDay; day++) {
    if (day > 1) moveOn(plan, periods, nobody)
    const { shares, arms: ofPeriod } = periods.at(-1)!
    const arrivals = splitArrivals(arrivalsOn(plan.newVisitors, day - 1), shares, draws)
    arms.forEach((arm, position) => {
      const arrived = arrivals[position]!
      const own = ofPeriod[position]!
      arm.visitors += arrived
      own.visitors += arrived
      visitors += arrived
      metrics.forEach(({ metric }, index) => {
        const isLifted = index === 0 && position === 1
        const sum = drawSum(metric, isLifted ? change : 0, arrived, draws)
        arm.sums[index]! += sum
        own.sums[index]! += sum
      })
      lost += arrived * losses[position]!
    })
    const isBroken = allocationPValue(periods) < ALLOCATION_ALARM
    const run: SimulatedRun = { arms, visitors, periods: plan.moving ? periods : null }
    const mayDecide = day >= decision.leastWeeks * 7
    if (!isBroken && !mayDecide && plan.guardrails.length === 0) continue
    const { kind, position } = decide(decision, {
      daysRun: day,
      visitors,
      unsound: isBroken ? ['allocation'] : [],
      variants: readVariants(plan, run, looks.get(day) ?? null),
      isLastLook: looks.get(day)?.isLast ?? false,
    })
    if (kind !== 'early' && kind !== 'go-on') return { kind, position, day, visitors, lost }
  }
  return { kind: 'open', position: null, day: lastDay, visitors, lost }
}

/** The arms as they were drawn by the same shares. */
interface SimulatedPeriod {
  shares: number[]
  arms: SimulatedArm[]
}

interface SimulatedRun {
  arms: SimulatedArm[]
  visitors: number
  /** Of a split that moves. */
  periods: readonly SimulatedPeriod[] | null
}

function sharesOf(weights: readonly number[]): number[] {
  const all = weights.reduce((sum, weight) => sum + weight, 0)
  return weights.map((weight) => weight / all)
}

/** What one visitor of an arm brings less than one of the best. */
function lossOf({ primary, weights }: RehearsalPlan, lift: number, position: number): number {
  const mean = Math.abs(primary.metric.kind === 'conversion' ? primary.metric.baseline : primary.metric.mean)
  const best = weights.length > 1 ? Math.max(0, lift) : 0
  return mean * (best - (position === 1 ? lift : 0))
}

function allocationPValue(periods: readonly SimulatedPeriod[]): number {
  const logFactor = periods.reduce(
    (sum, { shares, arms }) =>
      sum +
      logAllocationFactor(
        arms.map(({ visitors }) => visitors),
        shares,
      ),
    0,
  )
  return Math.min(1, Math.exp(-logFactor))
}

/** Begins the next period of a split that moves, once the last one is over. */
function moveOn(plan: RehearsalPlan, periods: SimulatedPeriod[], nobody: () => SimulatedArm[]): void {
  const { moving, primary } = plan
  if (!moving) return
  const visitors = periods.at(-1)!.arms.reduce((sum, arm) => sum + arm.visitors, 0)
  if (moving.batchVisitors !== null && visitors < moving.batchVisitors) return
  const counted = periodMoments(periods, primary.metric, 0)
  const plain = mixedMoments(counted, 1)
  const active =
    primary.metric.kind === 'conversion'
      ? plain.reduce((sum, { count, means }) => sum + count * means[0]!, 0)
      : Infinity
  const next = nextShares(weightedMoments(counted), plain, active, moving.leastShare, primary.direction)
  if (next) periods.push({ shares: next.shares, arms: nobody() })
}

function periodMoments(periods: readonly SimulatedPeriod[], metric: PlannedMetric, index: number): AllocationPeriod[] {
  return periods.map(({ shares, arms }) => ({
    shares,
    arms: arms.map(({ visitors, sums }) =>
      metric.kind === 'conversion'
        ? conversionMoments(visitors, sums[index]!)
        : momentsOfMean(visitors, visitors > 0 ? sums[index]! / visitors : 0, visitors * metric.deviation ** 2),
    ),
  }))
}

/** The change of the metric itself that is a lift to the better. */
function trueLift({ primary }: RehearsalPlan, lift: number): number {
  return primary.direction === 'up' ? lift : -lift
}

function arrivalsOn(newVisitors: readonly number[], day: number): number {
  const pattern = Math.min(7, newVisitors.length)
  const index = day < newVisitors.length ? day : newVisitors.length - pattern + ((day - newVisitors.length) % pattern)
  // Fractions come as whole visitors on some of the days.
  const before = newVisitors[index]! * day
  return Math.floor(before + newVisitors[index]!) - Math.floor(before)
}

function splitArrivals(arrivals: number, weights: readonly number[], draws: Draws): number[] {
  let left = arrivals
  let weightLeft = weights.reduce((sum, weight) => sum + weight, 0)
  return weights.map((weight, position) => {
    const share = position === weights.length - 1 ? left : draws.binomial(left, weight / weightLeft)
    left -= share
    weightLeft -= weight
    return share
  })
}

function drawSum(metric: PlannedMetric, lift: number, visitors: number, draws: Draws): number {
  if (metric.kind === 'conversion') return draws.binomial(visitors, metric.baseline * (1 + lift))
  return draws.normal(visitors * metric.mean * (1 + lift), Math.sqrt(visitors) * metric.deviation)
}

function readVariants(plan: RehearsalPlan, run: SimulatedRun, look: PlannedDay | null): VariantState[] {
  const { rule, plannedVisitors } = plan.decision
  const [control, ...variants] = run.arms
  const share = run.periods ? run.visitors / plannedVisitors : undefined
  const estimates = [plan.primary, ...plan.guardrails].map(({ metric }, index) => estimatedArms(run, metric, index))
  const readings = variants.map((_, index) => {
    const pair = pairOf(plan, estimates[0]!, index + 1, share)
    if (!pair) return UNKNOWN
    if (rule === 'spending') return look ? plannedReading(pair, look, plan.decision.alpha) : UNKNOWN
    return rule === 'fixed' ? fixedReading(pair, plan.decision.alpha) : alwaysValidReading(pair, plan.decision.alpha)
  })
  const adjusted = holm(readings.map(({ pValue }) => pValue))
  return variants.map((variant, index) => ({
    name: '',
    lift: betterLift(readings[index]!, plan.primary),
    liftInterval: betterInterval(readings[index]!, plan.primary),
    adjustedPValue: adjusted[index]!,
    shortfall: shortfallIn(plan.primary.metric, control!, variant, 0),
    relativeLoss: rule === 'low-risk' ? relativeLoss(plan.primary, estimates[0]!, index + 1) : null,
    guardrails: plan.guardrails.map((guardrail, at) => {
      const pair = pairOf(plan, estimates[at + 1]!, index + 1, share)
      return {
        name: guardrail.name,
        limit: guardrail.limit,
        // Guardrails are looked at every day, whatever the rule.
        liftInterval: pair && betterInterval(alwaysValidReading(pair, plan.decision.alpha), guardrail),
        shortfall: shortfallIn(guardrail.metric, control!, variant, at + 1),
      }
    }),
  }))
}

/** What is missing of conversions; simulated values are normal, and never skewed. */
function shortfallIn(
  metric: PlannedMetric,
  control: SimulatedArm,
  variant: SimulatedArm,
  index: number,
): Shortfall | null {
  if (metric.kind !== 'conversion') return null
  const shape = ({ visitors, sums }: SimulatedArm) =>
    armShape('conversion', conversionMoments(visitors, sums[index]!), sums[index]!, null)
  return shortfallOf('conversion', shape(control), shape(variant))
}

interface LiftReading {
  lift: number | null
  interval: Interval | null
  pValue: number
}

const UNKNOWN: LiftReading = { lift: null, interval: null, pValue: 1 }

/** The lift with its sign turned so that more is better. */
function betterLift({ lift }: LiftReading, { direction }: RehearsedMetric): number | null {
  return lift === null || direction === 'up' ? lift : -lift
}

/** Its interval likewise. */
function betterInterval({ interval }: LiftReading, { direction }: RehearsedMetric): Interval | null {
  return interval === null || direction === 'up' ? interval : [-interval[1], -interval[0]]
}

/** The control and a variant in one metric, with the visitors that are planned for each. */
interface Pair {
  from: EstimatedArm
  to: EstimatedArm
  plannedVisitors: { control: number; variant: number }
  /** See `ComparisonPlan`. */
  share?: number
}

function pairOf(
  { decision, weights }: RehearsalPlan,
  arms: readonly (EstimatedArm | null)[],
  position: number,
  share: number | undefined,
): Pair | null {
  const [from, to] = [arms[0]!, arms[position]!]
  if (!from || !to || from.mean === 0) return null
  const perWeight = decision.plannedVisitors / weights.reduce((sum, weight) => sum + weight, 0)
  return {
    from,
    to,
    plannedVisitors: { control: perWeight * weights[0]!, variant: perWeight * weights[position]! },
    share,
  }
}

function alwaysValidReading({ from, to, plannedVisitors, share }: Pair, alpha: number): LiftReading {
  const { lift, pValue } = sequentialReading(from, to, { alpha, plannedVisitors, share })
  return { lift: lift.estimate, interval: lift.interval, pValue: pValue ?? 1 }
}

function fixedReading(pair: Pair, alpha: number): LiftReading {
  const z = zOf(pair)
  return {
    ...liftWithin(pair, normalQuantile(1 - alpha / 2)),
    pValue: z === null ? 1 : 2 * normalUpperTail(Math.abs(z)),
  }
}

/** The p-value is told as closely as the step-down over the variants asks for it. */
function plannedReading(pair: Pair, { bounds }: PlannedDay, alpha: number): LiftReading {
  const z = Math.abs(zOf(pair) ?? 0)
  const crossed = bounds.findLastIndex((bound) => z > bound)
  return { ...liftWithin(pair, bounds[0]!), pValue: crossed < 0 ? 1 : (alpha / (crossed + 1)) * (1 - 1e-9) }
}

function liftWithin({ from, to }: Pair, quantile: number): Pick<LiftReading, 'lift' | 'interval'> {
  const interval = fiellerInterval(
    { mean: from.mean, variance: from.variance / from.visitors },
    { mean: to.mean, variance: to.variance / to.visitors },
    quantile,
  )
  return { lift: to.mean / from.mean - 1, interval }
}

/** null where nothing varies. */
function zOf({ from, to }: Pair): number | null {
  const error = Math.sqrt(from.variance / from.visitors + to.variance / to.visitors)
  return error > 0 ? (to.mean - from.mean) / error : null
}

interface EstimatedArm {
  visitors: number
  mean: number
  variance: number
}

/** Of a split that moves, with its periods taken apart. */
function estimatedArms({ arms, periods }: SimulatedRun, metric: PlannedMetric, index: number): (EstimatedArm | null)[] {
  if (!periods) return arms.map((arm) => armOf(metric, arm, index))
  return weightedMoments(periodMoments(periods, metric, index)).map((moments) =>
    moments.count < 2 ? null : { visitors: moments.count, mean: moments.means[0]!, variance: sampleVariance(moments) },
  )
}

function armOf(metric: PlannedMetric, { visitors, sums }: SimulatedArm, index: number): EstimatedArm | null {
  if (visitors === 0) return null
  const mean = sums[index]! / visitors
  return {
    visitors,
    mean,
    variance: metric.kind === 'conversion' ? mean * (1 - mean) : metric.deviation * metric.deviation,
  }
}

function relativeLoss(
  { direction }: RehearsedMetric,
  arms: readonly (EstimatedArm | null)[],
  position: number,
): number | null {
  const [from, to] = [arms[0]!, arms[position]!]
  if (!from || !to || !(from.mean > 0)) return null
  const normal = ({ mean, variance, visitors }: EstimatedArm) =>
    ({ family: 'normal', mean, variance: variance / visitors }) as const
  return comparePosteriors(normal(from), normal(to), 0.05, direction).expectedLoss! / from.mean
}

function summarize(lift: number, ends: readonly RunEnd[]): RehearsalScenario {
  const share = (matches: (end: RunEnd) => boolean) => ends.filter(matches).length / ends.length
  const decided = ends.filter(({ kind }) => kind !== 'open').map(({ day }) => day)
  decided.sort((a, b) => a - b)
  const by = (quantile: number) => decided[Math.ceil(quantile * ends.length) - 1] ?? null
  const of = (kind: VerdictKind) => share((end) => end.kind === kind)
  return {
    lift,
    shares: {
      distrust: of('distrust'),
      harm: of('harm'),
      ship: of('ship'),
      'no-difference': of('no-difference'),
      'ship-low-risk': of('ship-low-risk'),
      open: of('open'),
    },
    shippedWrong: share(
      ({ kind, position }) => (kind === 'ship' || kind === 'ship-low-risk') && (lift <= 0 || position !== 0),
    ),
    days: { mean: ends.reduce((sum, { day }) => sum + day, 0) / ends.length, half: by(0.5), nineTenths: by(0.9) },
    visitors: ends.reduce((sum, { visitors }) => sum + visitors, 0) / ends.length,
    lost:
      (1000 * ends.reduce((sum, { lost }) => sum + lost, 0)) / ends.reduce((sum, { visitors }) => sum + visitors, 0),
  }
}
