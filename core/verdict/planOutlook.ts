import { conditionalPower, predictivePower, type Outlook } from '../statistics/curtailment'
import { normalQuantile } from '../statistics/distributions'
import { spendingBounds } from '../statistics/errorSpending'
import type { Direction } from '../statistics/posterior'
import { COARSE } from '../statistics/scoreWalk'
import { mixtureParameter } from '../statistics/sequential'
import { LEAST_STEP } from './plannedLooks'
import type { DecisionPlan } from './verdict'

/** One arm as it stands: a visitor's mean value, its variance between visitors, and how many they are. */
interface StandingArm {
  mean: number
  variance: number
  visitors: number
}

export interface StandingRun {
  plan: Omit<DecisionPlan, 'lossLimit' | 'guardrailRule' | 'leastChance' | 'pausesFor'>
  direction: Direction
  weights: readonly number[]
  /** Days that are over. */
  daysRun: number
  /** Visitors of all arms together that come on a day, above 0. */
  visitorsADay: number
  /** The control first. */
  arms: readonly StandingArm[]
  /** By variant, the shares of the planned information at the looks taken so far, where the plan takes looks of its own. */
  looks?: readonly (readonly number[])[]
}

/** The chance that a run still ends with a variant being shipped, each in [0, 1]. */
export interface ShipChance {
  /** Averaged over what the lift may be after the data so far, with a flat prior. */
  predictive: number
  /** Where the lift is what it now looks like. */
  asSeen: number
  /** Where it is the smallest worthwhile one. */
  worthwhile: number
}

/** Looks that are computed with: more of them change the chance by less than a percent. */
const MOST_LOOKS = 20
const WEEK = 7

/**
 * The chance that a plan still ends with each variant being shipped, if visitors go on coming as they do: the chance that
 * one of the looks to come crosses the boundary of the plan's rule on the better side. With several variants the boundary
 * is that of the error divided by their number. Guardrails are left out.
 *
 * @returns for each variant; null where nothing can be said: nothing varies, nothing is to come, or the rule also ships
 *   where little can be lost
 * @see Lan, Simon, Halperin (1982), Stochastically curtailed tests in long-term clinical trials, Sequential Analysis 1;
 *   Spiegelhalter, Freedman, Blackburn (1986), Monitoring clinical trials: conditional or predictive power?, Controlled
 *   Clinical Trials 7; Jennison, Turnbull (2000), chapter 10
 */
export function shipChances(run: StandingRun): (ShipChance | null)[] {
  const [control, ...variants] = run.arms
  return variants.map((variant, index) => shipChance(run, control!, variant, index + 1))
}

function shipChance(run: StandingRun, control: StandingArm, variant: StandingArm, position: number): ShipChance | null {
  const { plan, direction, arms } = run
  const growth = growthAtLooks(run)
  const variance = control.variance / control.visitors + variant.variance / variant.visitors
  if (growth.length === 0 || plan.rule === 'low-risk' || !(variance > 0)) return null
  const information = 1 / variance
  const sign = direction === 'up' ? 1 : -1
  const difference = sign * (variant.mean - control.mean)
  const informations = growth.map((factor) => information * factor)
  const planned = 1 / plannedVariance(run, control, variant, position)
  const shares = informations.map((each) => each / planned)
  const outlook: Outlook = {
    z: difference * Math.sqrt(information),
    information,
    informations,
    bounds: boundsOf(plan, shares, arms.length - 1, run.looks?.[position - 1] ?? []),
  }
  return {
    predictive: predictivePower(outlook)!,
    asSeen: conditionalPower(outlook, difference),
    worthwhile: conditionalPower(outlook, plan.smallestLift * Math.abs(control.mean)),
  }
}

/** By what the information of now is multiplied at each look to come. */
function growthAtLooks({ plan, daysRun, visitorsADay, arms }: StandingRun): number[] {
  const visitors = arms.reduce((sum, arm) => sum + arm.visitors, 0)
  const lastDay = plan.longestWeeks * WEEK
  const growthOn = (day: number) => 1 + (visitorsADay * (day - daysRun)) / visitors
  if (!(visitors > 0) || !(visitorsADay > 0) || daysRun >= lastDay) return []
  /** A plan that spends its error ends with the planned visitors. */
  const endDay = (first: number) =>
    plan.rule === 'spending'
      ? Math.min(lastDay, Math.max(first, daysRun + Math.ceil((plan.plannedVisitors - visitors) / visitorsADay)))
      : lastDay
  if (plan.rule === 'fixed') {
    const atEnd = Math.min(growthOn(lastDay), plan.plannedVisitors / visitors)
    return atEnd > 1 ? [atEnd] : []
  }
  const first = Math.max(daysRun + 1, plan.leastWeeks * WEEK)
  const days = Array.from({ length: Math.max(1, endDay(first) - first + 1) }, (_, day) => first + day)
  const step = Math.ceil(days.length / MOST_LOOKS)
  return days.filter((_, place) => (days.length - 1 - place) % step === 0).map(growthOn)
}

/** Variance of the difference at the planned visitors, with the variances of now. */
function plannedVariance(
  { plan, weights }: StandingRun,
  control: StandingArm,
  variant: StandingArm,
  position: number,
): number {
  const perWeight = plan.plannedVisitors / weights.reduce((sum, weight) => sum + weight, 0)
  return control.variance / (perWeight * weights[0]!) + variant.variance / (perWeight * weights[position]!)
}

/** Critical |z| of the plan's rule at looks to come, given their shares of the planned information. */
function boundsOf(
  { rule, alpha }: Pick<DecisionPlan, 'rule' | 'alpha'>,
  shares: readonly number[],
  variants: number,
  taken: readonly number[],
): number[] {
  if (rule === 'fixed') return shares.map(() => normalQuantile(1 - alpha / variants / 2))
  if (rule === 'spending') {
    const before = thinned(taken.filter((share) => share <= shares[0]! - LEAST_STEP))
    return spendingBounds([...before, ...shares], { alpha: alpha / variants }, true, COARSE).slice(before.length)
  }
  const rho = mixtureParameter(1, alpha)
  // Where the always-valid p-value is the error of each; see `sequentialPValue`.
  return shares.map((share) => {
    const total = share + rho
    return Math.sqrt((2 * total * (Math.log(variants / alpha) + Math.log(total / rho) / 2)) / share)
  })
}

/** What was spent by the last of them is what counts; in how many steps changes little. */
function thinned(shares: readonly number[]): number[] {
  const step = Math.ceil(shares.length / MOST_LOOKS)
  return shares.filter((_, place) => (shares.length - 1 - place) % step === 0)
}
