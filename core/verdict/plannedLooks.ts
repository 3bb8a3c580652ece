import type { Interval, LiftEstimate } from '../statistics/compareArms'
import { adjustedEstimate, repeatedPValue, spendingBounds, type SpendingLook } from '../statistics/errorSpending'
import { fiellerInterval } from '../statistics/fieller'
import type { DecisionPlan } from './verdict'

/** An arm as it stood at a look. */
export interface LookedArm {
  visitors: number
  mean: number
  /** Of one visitor's value. */
  variance: number
}

/** What one variant was, beside the control, when a day of the run was over. It is never changed. */
export interface PlannedLook {
  /** Days that were over; two looks never have the same. */
  daysRun: number
  control: LookedArm
  variant: LookedArm
  /** Information there was, as a share of what the planned visitors bring with the variances of that day. */
  share: number
  /** Critical |z|; null where nothing of the error was spent. */
  bound: number | null
  /** The repeated p-value: of all looks up to this one. */
  pValue: number
  /** Of the first look that crosses its boundary, or of the last: the lift adjusted for having stopped there. */
  adjusted: { lift: number; interval: Interval } | null
  /** Whether the plan has come to its end with it: then all of the error is spent. */
  isLast: boolean
}

/** What a plan says of a variant at its latest look. */
export interface PlannedReading {
  daysRun: number
  isLast: boolean
  share: number
  bound: number | null
  /** Of the difference, at the error level that is spent by then: it holds at all looks together. */
  interval: Interval | null
  lift: LiftEstimate
  pValue: number
  adjusted: { lift: number; interval: Interval } | null
}

const WEEK = 7
/** A day that brings less of the planned information is no look of its own: some hundred looks are enough for any plan. */
export const LEAST_STEP = 0.005

export interface LookedRun {
  plan: DecisionPlan
  daysRun: number
  /** Visitors that count, of all arms together. */
  visitors: number
  /**
   * Whether its weights move. Then the summed difference gains as much variance with each visitor, whatever the weights:
   * the share of the planned information is that of the planned visitors.
   */
  isMoving?: boolean
  /** How many variants are tested together; 1 where left out. */
  variants?: number
}

/**
 * Whether a look is due: one a day from the least run on, until one was the last. The last is that of the longest run, or
 * the first with the planned visitors.
 *
 * @param latest - the latest look at any variant; null before the first
 */
export function dueLook(
  { plan, daysRun, visitors }: LookedRun,
  latest: Pick<PlannedLook, 'daysRun' | 'isLast'> | null,
): 'interim' | 'last' | null {
  if (plan.rule !== 'spending' || latest?.isLast) return null
  if (daysRun < plan.leastWeeks * WEEK || (latest && latest.daysRun >= daysRun)) return null
  return daysRun >= plan.longestWeeks * WEEK || visitors >= plan.plannedVisitors ? 'last' : 'interim'
}

/** The day of the run after which the next look is due; null once the last was taken. */
export function nextLookAfter(
  { plan, daysRun }: Pick<LookedRun, 'plan' | 'daysRun'>,
  latest: Pick<PlannedLook, 'daysRun' | 'isLast'> | null,
): number | null {
  if (latest?.isLast) return null
  return Math.max(plan.leastWeeks * WEEK, (latest?.daysRun ?? 0) + 1, daysRun)
}

/**
 * Looks at a variant: what is spent by now, the boundary that follows from the looks that were really taken, and what can
 * be said by it.
 *
 * @param arms - the control and the variant; variances above 0 in one of them
 * @param weights - of the arms in the plan
 * @param earlier - the looks before, in their order
 * @returns null where the look cannot be one: nothing varies, or hardly anything has come since the look before
 * @see Lan, DeMets (1983), Biometrika 70; Jennison, Turnbull (2000), chapters 7 and 9
 */
export function takeLook(
  run: LookedRun,
  arms: { control: LookedArm; variant: LookedArm },
  weights: { control: number; variant: number; all: number },
  earlier: readonly PlannedLook[],
  isLast: boolean,
): PlannedLook | null {
  const { control, variant } = arms
  const { alpha } = run.plan
  const information = informationShare(arms, weights, run.plan.plannedVisitors)
  if (information === null) return null
  const share = run.isMoving ? run.visitors / run.plan.plannedVisitors : information
  const kept = earlier.filter((look) => look.share <= share - LEAST_STEP)
  // The last look takes the place of those that hardly differ from it; any other waits for more.
  if (!isLast && kept.length < earlier.length) return null
  const looks = [...kept.map(standingOf), standingOf({ control, variant, share })]
  const shares = looks.map((look) => look.share)
  const bound = spendingBounds(shares, { alpha }, isLast).at(-1)!
  // Of several variants the run stops with the first that crosses at the level that the closed test begins with.
  const stopping = spendingBounds(shares, { alpha: alpha / (run.variants ?? 1) }, isLast)
  return {
    daysRun: run.daysRun,
    control,
    variant,
    share,
    bound: Number.isFinite(bound) ? bound : null,
    pValue: repeatedPValue(looks, { alpha }, isLast),
    adjusted: hasStopped(looks, stopping, isLast) ? adjustedLift(arms, looks, stopping, alpha) : null,
    isLast,
  }
}

/** Whether a run stops with its latest look: it is the first to cross its boundary, or the last of all. */
function hasStopped(looks: readonly SpendingLook[], bounds: readonly number[], isLast: boolean): boolean {
  const first = looks.findIndex(({ z }, look) => Math.abs(z) > bounds[look]!)
  return first === looks.length - 1 || (first < 0 && isLast)
}

/**
 * What a look says, with the interval of its boundary.
 *
 * @see Jennison, Turnbull (1989), Interim analyses: the repeated confidence interval approach, J. Royal Stat. Soc. B 51
 */
export function readPlannedLook(look: PlannedLook): PlannedReading {
  const { control, variant, bound, daysRun, isLast, share, pValue, adjusted } = look
  const difference = variant.mean - control.mean
  const half = bound === null ? null : bound * standardError(look)
  const estimate = control.mean === 0 ? null : variant.mean / control.mean - 1
  const interval = bound === null || estimate === null ? null : fiellerInterval(ofMean(control), ofMean(variant), bound)
  return {
    daysRun,
    isLast,
    share,
    bound,
    interval: half === null ? null : [difference - half, difference + half],
    lift: interval ? { estimate, interval } : { estimate, interval, why: whyNoInterval(look) },
    pValue,
    adjusted,
  }
}

function whyNoInterval({ control, bound }: PlannedLook): string {
  if (bound === null) return 'At so early a look nothing may be said yet.'
  return control.mean === 0
    ? 'The control’s mean is zero, so there is no relative lift.'
    : 'The control’s mean cannot be told from zero yet, so a relative lift has no bounds.'
}

/** Information there is, as a share of what the planned visitors bring: variances are those of now in both. */
function informationShare(
  { control, variant }: { control: LookedArm; variant: LookedArm },
  weights: { control: number; variant: number; all: number },
  plannedVisitors: number,
): number | null {
  const now = control.variance / control.visitors + variant.variance / variant.visitors
  const perWeight = plannedVisitors / weights.all
  const planned = control.variance / (perWeight * weights.control) + variant.variance / (perWeight * weights.variant)
  return now > 0 && planned > 0 && Number.isFinite(now) ? planned / now : null
}

function standingOf(look: Pick<PlannedLook, 'control' | 'variant' | 'share'>): SpendingLook {
  return { share: look.share, z: (look.variant.mean - look.control.mean) / standardError(look) }
}

function standardError({ control, variant }: Pick<PlannedLook, 'control' | 'variant'>): number {
  return Math.sqrt(ofMean(control).variance + ofMean(variant).variance)
}

function ofMean({ mean, variance, visitors }: LookedArm): { mean: number; variance: number } {
  return { mean, variance: variance / visitors }
}

/**
 * The lift adjusted for having stopped with the last of some looks, though its boundary was not crossed: the run led
 * nowhere, or a person ended it. The boundaries before it are those that it could have stopped at.
 *
 * @param looks - that were taken at a variant, in their order; at least one
 * @param plan - its error level, and how many variants are tested together
 * @returns null where the control's mean is 0
 */
export function adjustedForStopping(
  looks: readonly PlannedLook[],
  { alpha, variants }: { alpha: number; variants: number },
): PlannedLook['adjusted'] {
  const last = looks.at(-1)!
  // A last look has taken the place of those that hardly differed from it.
  const kept = [...looks.slice(0, -1).filter((look) => look.share <= last.share - LEAST_STEP), last]
  const shares = kept.map((look) => look.share)
  return adjustedLift(last, kept.map(standingOf), spendingBounds(shares, { alpha: alpha / variants }, true), alpha)
}

/** Relative to the control's mean as it is: how far that may be off is little beside the difference. */
function adjustedLift(
  arms: { control: LookedArm; variant: LookedArm },
  looks: readonly SpendingLook[],
  bounds: readonly number[],
  alpha: number,
): PlannedLook['adjusted'] {
  const { mean } = arms.control
  if (mean === 0) return null
  const { estimate, interval } = adjustedEstimate(looks, bounds, alpha)
  const relative = (z: number) => (z * standardError(arms)) / mean
  const [low, high] = [relative(interval[0]), relative(interval[1])]
  return { lift: relative(estimate), interval: low < high ? [low, high] : [high, low] }
}
