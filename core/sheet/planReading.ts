import {
  detectableLift,
  powerOf,
  sampleSize,
  visitorsUntilDecided,
  type LookPlan,
  type PlannedMetric,
  type PowerPlan,
} from '../statistics/power'
import type { ExpectationModel } from '../measurement/expectedValue'
import type { MetricKind } from '../statistics/estimate'
import type { DecisionPlan } from '../verdict/verdict'
import type { SheetPlan } from './content'

/** The chance to find the smallest worthwhile lift that plans are made for. */
export const WANTED_POWER = 0.8
/** Looks that a sequential plan is computed for; more of them change it by a few percent only. */
export const LOOKS = 8

/** With fewer visitors in the longest run nothing is computed: whoever tests there knows why. */
const LEAST_TO_PLAN = 100

/** What the visitors of some pages did lately. */
export interface Forecast {
  /** How many days it looks back. */
  days: number
  /** Visitors of the pages in those days. */
  visitors: number
  /** Of those, the share who came for the first time in each week of them: fewer every week, since many come again. */
  firstSeen?: number[]
  /** Visitors that the metric was computed for: all, or a sample of them. */
  sampled: number
  /** Of the primary metric, a visitor's value from the first view of the pages on; null where nobody was there. */
  mean: number | null
  deviation: number | null
  /** What its value is expected by from before the first view; null where too few came, left out where nobody asked. */
  expectation?: ExpectationModel | null
}

/** What a plan comes to with the traffic that there is. */
export interface PlanReading {
  /** Rate of the control: as typed, or as it was. */
  baseline: number | null
  mean: number | null
  deviation: number | null
  /** Share of the variance that the plan's adjustment removes, as of the last weeks; null where that is not known. */
  removed: number | null
  /** Visitors that enter the experiment in a week. */
  visitorsAWeek: number | null
  /** Visitors that the smallest worthwhile lift needs; null while that cannot be said. */
  needed: number | null
  /** As typed, or computed: what is needed, and no more than come in the longest run. */
  plannedVisitors: number | null
  /** What follows from the traffic, whatever was typed. */
  computedVisitors: number | null
  /** Chance that the planned visitors show the smallest worthwhile lift. */
  power: number | null
  /** The lift that the planned visitors show with the wanted power. */
  visibleLift: number | null
  /** Weeks until the planned visitors were there. */
  weeks: number | null
}

export interface PlannedSheet {
  plan: SheetPlan
  kind: MetricKind
  weights: readonly number[]
  /** Of 10,000 buckets. */
  share: number
}

/**
 * Reads a plan together with the traffic it will meet. What is not typed is computed.
 *
 * @param forecast - null while it is not known
 */
export function readPlan({ plan, kind, weights, share }: PlannedSheet, forecast: Forecast | null): PlanReading {
  const known = forecast && forecast.visitors > 0 ? forecast : null
  const baseline = plan.baseline ?? (kind === 'conversion' ? (known?.mean ?? null) : null)
  const mean = plan.mean ?? (kind === 'conversion' ? null : (known?.mean ?? null))
  const deviation = plan.deviation ?? (kind === 'conversion' ? null : (known?.deviation ?? null))
  const longest = plan.longestWeeks
  const visitorsAWeek = known ? (visitorsWithin(known, longest) / longest) * (share / 10_000) : null

  const metric = plannedMetric(kind, baseline, mean, deviation)
  const power: PowerPlan | null = metric && { metric, alpha: plan.alpha, weights, looks: looksOf(plan) }
  const lift = plan.smallestLift
  const removed = removedShare(plan, known)
  // Variance that is removed counts like visitors who need not come.
  const worth = (visitors: number) => visitors / (1 - (removed ?? 0))
  const needed = power && orNull(() => Math.ceil(sum(sampleSize(power, lift, WANTED_POWER)) * (1 - (removed ?? 0))))
  const most = visitorsAWeek === null ? null : Math.round(visitorsAWeek * plan.longestWeeks)
  const computedVisitors = most === null || most < LEAST_TO_PLAN ? null : Math.min(most, needed ?? most)
  const plannedVisitors = plan.plannedVisitors ?? computedVisitors
  const isPlanned = power !== null && plannedVisitors !== null
  return {
    baseline,
    mean,
    deviation,
    removed,
    visitorsAWeek,
    needed,
    plannedVisitors,
    computedVisitors,
    power: isPlanned ? orNull(() => powerOf(power, lift, worth(plannedVisitors))) : null,
    visibleLift: isPlanned ? orNull(() => detectableLift(power, worth(plannedVisitors), WANTED_POWER)) : null,
    weeks: visitorsAWeek && plannedVisitors ? plannedVisitors / visitorsAWeek : null,
  }
}

/** Share of the variance that a plan removes, by what its model explained lately; 0 where it adjusts by nothing. */
function removedShare({ adjustedBy }: SheetPlan, known: Forecast | null): number | null {
  return adjustedBy === 'past' ? (known?.expectation?.explained ?? null) : 0
}

/** The looks that a plan is computed for; the low-risk rule takes those of the sequential one. */
function looksOf({
  rule,
  leastWeeks,
  longestWeeks,
}: Pick<SheetPlan, 'rule' | 'leastWeeks' | 'longestWeeks'>): LookPlan {
  if (rule === 'fixed') return { rule }
  if (rule !== 'spending') return { rule: 'sequential', looks: LOOKS }
  return leastWeeks < longestWeeks ? { rule, looks: LOOKS, from: leastWeeks / longestWeeks } : { rule: 'fixed' }
}

/** What a rule asks of the traffic to show the smallest worthwhile lift with the wanted power. */
export interface RuleCost {
  rule: (typeof COMPARED_RULES)[number]
  /** Visitors until it decides, on average, where the lift is the smallest worthwhile one. */
  onAverage: number
  atMost: number
}
/** The low-risk rule is left out: how long it takes depends on the loss that is accepted. */
const COMPARED_RULES = ['spending', 'sequential', 'fixed'] as const

/**
 * What each rule costs; empty while something of the metric is not known.
 *
 * @param removed - share of the variance that the plan's adjustment removes
 */
export function ruleCosts(
  { plan, weights }: Pick<PlannedSheet, 'plan' | 'weights'>,
  metric: PlannedMetric | null,
  removed: number,
): RuleCost[] {
  if (!metric) return []
  const { alpha, smallestLift } = plan
  return COMPARED_RULES.flatMap((rule) => {
    const power: PowerPlan = { metric, alpha, weights, looks: looksOf({ ...plan, rule }) }
    const atMost = orNull(() => sum(sampleSize(power, smallestLift, WANTED_POWER)))
    const onAverage = atMost && orNull(() => visitorsUntilDecided(power, smallestLift, atMost))
    return atMost && onAverage
      ? [{ rule, onAverage: onAverage * (1 - removed), atMost: Math.ceil(atMost * (1 - removed)) }]
      : []
  })
}

/**
 * Visitors within so many weeks: those who came before are not new, so that each further week brings as many as the last
 * one that was looked at did.
 *
 * @param weeks - above 0
 * @example visitorsWithin({ days: 14, visitors: 100, firstSeen: [0.7, 0.3], … }, 4) // 70 + 30 + 30 + 30
 */
export function visitorsWithin({ days, visitors, firstSeen }: Forecast, weeks: number): number {
  if (!firstSeen || firstSeen.length === 0) return (visitors / days) * 7 * weeks
  let sum = 0
  for (let week = 0; week < weeks; week++) sum += (firstSeen[week] ?? firstSeen.at(-1)!) * Math.min(1, weeks - week)
  return visitors * sum
}

/** Weeks until so many visitors have come, in tenths; null where that takes years. */
export function weeksUntil(forecast: Forecast, visitors: number): number | null {
  for (let tenths = 1; tenths <= 2000; tenths++)
    if (visitorsWithin(forecast, tenths / 10) >= visitors) return tenths / 10
  return null
}

/** The metric as planning takes it; null while something of it is not known. */
export function plannedMetric(
  kind: MetricKind,
  baseline: number | null,
  mean: number | null,
  deviation: number | null,
): PlannedMetric | null {
  if (kind === 'conversion') return baseline !== null && baseline > 0 && baseline < 1 ? { kind, baseline } : null
  return mean && deviation ? { kind: 'mean', mean, deviation } : null
}

/** A metric with the variance that is left after an adjustment. An adjusted rate is no share of visitors any more. */
export function reducedMetric(metric: PlannedMetric, removed: number): PlannedMetric {
  if (removed === 0) return metric
  const variance = metric.kind === 'conversion' ? metric.baseline * (1 - metric.baseline) : metric.deviation ** 2
  return {
    kind: 'mean',
    mean: metric.kind === 'conversion' ? metric.baseline : metric.mean,
    deviation: Math.sqrt(variance * (1 - removed)),
  }
}

/**
 * The plan that a started experiment is decided by.
 *
 * @throws RangeError while the planned visitors are neither typed nor computed
 */
export function decidedPlan(plan: SheetPlan): DecisionPlan {
  const { plannedVisitors } = plan
  if (plannedVisitors === null) throw new RangeError('The plan does not say how many visitors it is for.')
  return { ...plan, plannedVisitors }
}

/** What is wrong with a plan, or worth knowing before it is frozen; only the first kind keeps from starting. */
export function planFindings(plan: SheetPlan, reading: PlanReading): { text: string; isStop: boolean }[] {
  const { plannedVisitors, needed, power, visibleLift, visitorsAWeek, weeks } = reading
  if (plannedVisitors === null)
    return [
      {
        isStop: true,
        text: 'Say how many visitors the run is planned for. It cannot be computed: hardly anybody saw these pages in the last four weeks.',
      },
    ]
  const findings: { text: string; isStop: boolean }[] = []
  if (reading.removed === null)
    findings.push({
      isStop: false,
      text: 'Too few visitors came in the last four weeks to adjust by what they did before. Without it, nothing is adjusted.',
    })
  if (plan.split === 'moving')
    findings.push({
      isStop: false,
      text: 'These numbers are for a split that stays as set. One that moves shows a lift less often: rehearse it.',
    })
  if (power !== null && needed !== null && power < WANTED_POWER - 0.005) {
    const visible = visibleLift === null ? '' : ` With them, a lift of ${percent(visibleLift)} would show.`
    findings.push({
      isStop: false,
      text: `${count(plannedVisitors)} visitors show a lift of ${percent(plan.smallestLift)} in ${Math.round(power * 100)} of 100 runs; ${count(needed)} are needed for 80.${visible}`,
    })
  }
  if (visitorsAWeek !== null && weeks !== null && weeks > plan.longestWeeks * 1.05)
    findings.push({
      isStop: false,
      text: `${count(plannedVisitors)} visitors take ${count(Math.ceil(weeks))} weeks: ${aWeek(visitorsAWeek)} to these pages in a week. The longest run is ${plan.longestWeeks}.`,
    })
  return findings
}

/** How many come, with what they do. */
function aWeek(visitors: number): string {
  if (visitors < 1) return 'less than one comes'
  return Math.round(visitors) === 1 ? '1 comes' : `${count(Math.round(visitors))} come`
}

function orNull<Value>(compute: () => Value): Value | null {
  try {
    const value = compute()
    return typeof value === 'number' && !Number.isFinite(value) ? null : value
  } catch (error) {
    if (error instanceof RangeError) return null
    throw error
  }
}

function sum(values: readonly number[]): number {
  return values.reduce((total, value) => total + value, 0)
}

function count(value: number): string {
  return value.toLocaleString('en-US')
}

function percent(share: number): string {
  return `${Number((share * 100).toPrecision(2))} %`
}
