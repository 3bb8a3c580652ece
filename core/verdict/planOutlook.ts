import { conditionalPower, predictivePower, type Outlook } from '../statistics/curtailment'
import { normalQuantile } from '../statistics/distributions'
import type { Direction } from '../statistics/posterior'
import { mixtureParameter } from '../statistics/sequential'
import type { DecisionPlan } from './verdict'

/** One arm as it stands: a visitor's mean value, its variance between visitors, and how many they are. */
interface StandingArm {
  mean: number
  variance: number
  visitors: number
}

export interface StandingRun {
  plan: Omit<DecisionPlan, 'lossLimit' | 'guardrailRule' | 'leastChance'>
  direction: Direction
  weights: readonly number[]
  /** Days that are over. */
  daysRun: number
  /** Visitors of all arms together that come on a day, above 0. */
  visitorsADay: number
  /** The control first. */
  arms: readonly StandingArm[]
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
  const bound = boundOf(run, control, variant, position)
  const outlook: Outlook = {
    z: difference * Math.sqrt(information),
    information,
    informations,
    bounds: informations.map((each) => bound(each, arms.length - 1)),
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
  if (plan.rule === 'fixed') {
    const atEnd = Math.min(growthOn(lastDay), plan.plannedVisitors / visitors)
    return atEnd > 1 ? [atEnd] : []
  }
  const first = Math.max(daysRun + 1, plan.leastWeeks * WEEK)
  const days = Array.from({ length: Math.max(1, lastDay - first + 1) }, (_, day) => first + day)
  const step = Math.ceil(days.length / MOST_LOOKS)
  return days.filter((_, place) => (days.length - 1 - place) % step === 0).map(growthOn)
}

/** Critical |z| of the plan's rule by the information of a look, and the number of variants. */
function boundOf(
  { plan, weights }: StandingRun,
  control: StandingArm,
  variant: StandingArm,
  position: number,
): (information: number, variants: number) => number {
  const { alpha } = plan
  if (plan.rule === 'fixed') return (_, variants) => normalQuantile(1 - alpha / variants / 2)
  const perWeight = plan.plannedVisitors / weights.reduce((sum, weight) => sum + weight, 0)
  const planned = control.variance / (perWeight * weights[0]!) + variant.variance / (perWeight * weights[position]!)
  const rho = mixtureParameter(1 / planned, alpha)
  // Where the always-valid p-value is the error of each; see `sequentialPValue`.
  return (information, variants) => {
    const total = information + rho
    return Math.sqrt((2 * total * (Math.log(variants / alpha) + Math.log(total / rho) / 2)) / information)
  }
}
