import type { Interval } from '../statistics/compareArms'

/** What was fixed before the start. */
export interface DecisionPlan {
  /** Smallest relative lift worth having, above 0. */
  smallestLift: number
  /** Two-sided error level. */
  alpha: number
  /** sequential: intervals valid at every look; fixed: one look at the planned end; low-risk: also ships when little can be lost. */
  rule: 'sequential' | 'fixed' | 'low-risk'
  /** Expected loss, relative to the control's mean, under which the low-risk rule ships. */
  lossLimit: number
  leastWeeks: number
  longestWeeks: number
  /** Visitors the plan expects in all arms together by the longest run. */
  plannedVisitors: number
}

/** What is known about one variant. Signs are turned so that more is better. */
export interface VariantState {
  name: string
  /** Relative lift of the primary metric by the plan's rule; null while the data cannot give one. */
  liftInterval: Interval | null
  lift: number | null
  /** p-value by the plan's rule, adjusted for the number of variants. */
  adjustedPValue: number
  /** Expected loss of choosing it, relative to the control's mean; null without a control mean. */
  relativeLoss: number | null
  /** Guardrails of which the interval lies beyond the limit, by name. */
  harmedGuardrails: readonly string[]
}

export interface ExperimentState {
  daysRun: number
  visitors: number
  /** Reasons not to trust the data, in words; empty when it is sound. */
  unsound: readonly string[]
  variants: readonly VariantState[]
}

export type VerdictKind = 'distrust' | 'harm' | 'early' | 'ship' | 'no-difference' | 'ship-low-risk' | 'open' | 'go-on'

export interface Verdict {
  kind: VerdictKind
  /** The variant to ship, or that does harm. */
  variant: string | null
  /** What to do, in a few words. */
  title: string
  /** Why, in words and numbers. */
  reasons: string[]
}

/**
 * What a decision plan says to do now.
 *
 * Checked in this order: unsound data, harm to a guardrail, the least run, the primary metric's interval
 * against 0 and against the smallest worthwhile lift, low risk, the longest run.
 *
 * @param plan - what was fixed before the start
 * @param state - what the data says so far
 * @example verdict(plan, { daysRun: 2, visitors: 300, unsound: [], variants: [] }).kind // 'early'
 */
export function verdict(plan: DecisionPlan, state: ExperimentState): Verdict {
  if (state.unsound.length > 0) {
    return { kind: 'distrust', variant: null, title: 'Don’t trust these numbers', reasons: [...state.unsound, 'Find the cause before reading any result.'] }
  }

  const harmed = state.variants.find((variant) => variant.harmedGuardrails.length > 0)
  if (harmed) {
    return { kind: 'harm', variant: harmed.name, title: `Stop: “${harmed.name}” does harm`, reasons: harmed.harmedGuardrails.map((guardrail) => `${guardrail} is beyond its limit.`) }
  }

  const daysMissing = plan.leastWeeks * 7 - state.daysRun
  if (daysMissing > 0) {
    const visitorsMissing = Math.max(0, plan.plannedVisitors - state.visitors)
    const reasons = [`The plan runs at least ${weeks(plan.leastWeeks)}: ${count(daysMissing, 'day')} to go.`]
    if (visitorsMissing > 0) reasons.push(`${visitorsMissing.toLocaleString('en-US')} of ${plan.plannedVisitors.toLocaleString('en-US')} planned visitors are still to come.`)
    return { kind: 'early', variant: null, title: 'Too early to say', reasons }
  }

  const longestReached = state.daysRun >= plan.longestWeeks * 7
  const mayConclude = plan.rule !== 'fixed' || longestReached || state.visitors >= plan.plannedVisitors
  if (mayConclude) {
    const winners = state.variants.filter((variant) => variant.liftInterval !== null && variant.liftInterval[0] > 0 && variant.adjustedPValue < plan.alpha)
    const winner = winners.sort((a, b) => (b.lift ?? 0) - (a.lift ?? 0))[0]
    if (winner) {
      return { kind: 'ship', variant: winner.name, title: `Ship “${winner.name}”`, reasons: [`The lift holds at least ${percent(winner.liftInterval![0])}, at most ${percent(winner.liftInterval![1])}.`] }
    }
    const none = state.variants.length > 0 && state.variants.every((variant) => variant.liftInterval !== null && variant.liftInterval[1] < plan.smallestLift)
    if (none) {
      const best = Math.max(...state.variants.map((variant) => variant.liftInterval![1]))
      return { kind: 'no-difference', variant: null, title: 'No worthwhile difference', reasons: [`The lift is at most ${percent(best)}; the plan asks for ${percent(plan.smallestLift)}.`, 'Keep the control.'] }
    }
  }

  if (plan.rule === 'low-risk') {
    const safe = state.variants.filter((variant) => variant.relativeLoss !== null && variant.relativeLoss < plan.lossLimit).sort((a, b) => a.relativeLoss! - b.relativeLoss!)[0]
    if (safe) {
      return { kind: 'ship-low-risk', variant: safe.name, title: `Ship “${safe.name}”: low risk`, reasons: [`Should it be worse after all, it costs ${percent(safe.relativeLoss!, false)} on average; the plan accepts ${percent(plan.lossLimit, false)}.`] }
    }
  }

  if (longestReached) {
    return { kind: 'open', variant: null, title: 'Open question', reasons: [`The longest run of ${weeks(plan.longestWeeks)} is over and the interval still covers both a worthwhile lift and none.`] }
  }
  const left = plan.longestWeeks * 7 - state.daysRun
  return { kind: 'go-on', variant: null, title: 'Go on', reasons: [`The interval still covers both a worthwhile lift and none; at most ${count(left, 'day')} to go.`] }
}

function percent(share: number, signed = true): string {
  const text = Math.abs(share * 100).toFixed(Math.abs(share) < 0.01 ? 2 : 1)
  const sign = share < 0 ? '−' : signed ? '+' : ''
  return `${sign}${text} %`
}

function count(number: number, unit: string): string {
  const whole = Math.ceil(number)
  return `${whole} ${unit}${whole === 1 ? '' : 's'}`
}

function weeks(number: number): string {
  return count(number, 'week')
}
