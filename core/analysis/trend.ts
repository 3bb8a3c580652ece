import type { LiftEstimate } from '../statistics/compareArms'
import { normalQuantile, normalUpperTail } from '../statistics/distributions'
import { estimateArm, type MetricKind } from '../statistics/estimate'
import { heterogeneity, type Heterogeneity } from '../statistics/heterogeneity'
import { logLift } from '../statistics/logLift'
import { mergeAll, type Moments } from '../statistics/moments'
import { correctedParts, readPart, type Part } from './part'

/** Visitors of one day of first exposure. */
export interface DayCell {
  /** As `2026-03-30`. */
  day: string
  /** The control first. */
  arms: readonly Moments[]
}

/** Some days of a run: `week 1`, `weekend`. */
export interface Stretch extends Part {
  days: string[]
}

/** How the lift goes from week to week. */
export interface WeeklyTrend {
  /** By what share the ratio of variant and control changes a week: −0.1 is a tenth less every week. */
  perWeek: number
  interval: [number, number]
  pValue: number
}

/** What the first week says, beside all later ones. */
export interface FirstWeek {
  first: LiftEstimate
  later: LiftEstimate
  /** Of whether the two differ. */
  pValue: number | null
  /** Whether the lift of the whole run is there by its first week alone, as far as one look says. */
  carriesResult: boolean
}

export interface RunTrend {
  weeks: Stretch[]
  /** Whether the weeks differ. */
  weeksDiffer: Heterogeneity
  /** Null with fewer than three weeks that have a lift. */
  trend: WeeklyTrend | null
  /** Null with fewer than two weeks. */
  firstWeek: FirstWeek | null
  /** Weekdays, and Saturdays with Sundays. */
  parts: Stretch[]
  partsDiffer: Heterogeneity
}

const WEEK = 7
const LEAST_WEEKS = 3
const DIFFERS = 0.05

/**
 * Whether a lift is the same throughout a run: each week of it alone, weekdays against weekends, whether it grows or
 * shrinks from week to week, and whether the first week carries it. Visitors belong to the day of their first exposure.
 *
 * @param days - in their order; days without visitors may be missing
 * @param position - of the variant among the arms
 * @param alpha - two-sided error level of the intervals
 * @see Thompson, Higgins (2002), How should meta-regression analyses be undertaken and interpreted?, Statistics in
 *   Medicine 21, for the weighted line through the logarithms of the ratios; Cochran (1954) for whether they differ
 */
export function runTrend(kind: MetricKind, days: readonly DayCell[], position: number, alpha: number): RunTrend {
  const [first] = days
  const weekOf = ({ day }: DayCell) => Math.floor(daysBetween(first!.day, day) / WEEK)
  const weeks = groups(days, weekOf)
  const parts = groups(days, ({ day }) => Number(isWeekend(day)))
  const read = (cells: readonly DayCell[], name: string) => stretchOf(kind, cells, position, alpha, name)
  const logs = (cells: readonly DayCell[]) => logLiftOf(kind, cells, position)
  return {
    weeks: correctedParts([...weeks].map(([week, cells]) => read(cells, `week ${week + 1}`))),
    weeksDiffer: heterogeneity([...weeks.values()].map(logs)),
    trend: lineThrough(
      [...weeks].map(([week, cells]) => ({ week, ...logs(cells) })),
      alpha,
    ),
    firstWeek: weeks.size > 1 ? firstWeekOf(days, weekOf, read, logs) : null,
    parts: correctedParts([...parts].map(([isEnd, cells]) => read(cells, isEnd ? 'weekend' : 'weekdays'))),
    partsDiffer: heterogeneity([...parts.values()].map(logs)),
  }
}

function daysBetween(from: string, to: string): number {
  return Math.round((Date.parse(to) - Date.parse(from)) / 86_400_000)
}

function isWeekend(day: string): boolean {
  return [0, 6].includes(new Date(day).getUTCDay())
}

function groups(days: readonly DayCell[], keyOf: (cell: DayCell) => number): Map<number, DayCell[]> {
  const found = new Map<number, DayCell[]>()
  for (const cell of days) found.set(keyOf(cell), [...(found.get(keyOf(cell)) ?? []), cell])
  return new Map([...found].sort(([a], [b]) => a - b))
}

function armsOf(kind: MetricKind, cells: readonly DayCell[], position: number) {
  const [control, variant] = [0, position].map((arm) =>
    estimateArm(kind, mergeAll(cells.map(({ arms }) => arms[arm]!))),
  )
  return { control: control!, variant: variant! }
}

function logLiftOf(kind: MetricKind, cells: readonly DayCell[], position: number) {
  const { control, variant } = armsOf(kind, cells, position)
  return logLift(control, variant)
}

function stretchOf(
  kind: MetricKind,
  cells: readonly DayCell[],
  position: number,
  alpha: number,
  name: string,
): Stretch {
  return { ...readPart(armsOf(kind, cells, position), kind, alpha, name), days: cells.map(({ day }) => day) }
}

/** The weighted line through the logarithms of the ratios by week. */
function lineThrough(
  weeks: readonly { week: number; estimate: number | null; standardError: number | null }[],
  alpha: number,
): WeeklyTrend | null {
  const known = weeks.flatMap(({ week, estimate, standardError }) =>
    estimate !== null && standardError ? [{ week, estimate, weight: 1 / (standardError * standardError) }] : [],
  )
  if (known.length < LEAST_WEEKS) return null
  const total = known.reduce((sum, { weight }) => sum + weight, 0)
  const center = known.reduce((sum, { week, weight }) => sum + weight * week, 0) / total
  const spread = known.reduce((sum, { week, weight }) => sum + weight * (week - center) ** 2, 0)
  const slope = known.reduce((sum, { week, weight, estimate }) => sum + weight * (week - center) * estimate, 0) / spread
  const error = 1 / Math.sqrt(spread)
  const half = normalQuantile(1 - alpha / 2) * error
  return {
    perWeek: Math.expm1(slope),
    interval: [Math.expm1(slope - half), Math.expm1(slope + half)],
    pValue: 2 * normalUpperTail(Math.abs(slope) / error),
  }
}

function firstWeekOf(
  days: readonly DayCell[],
  weekOf: (cell: DayCell) => number,
  read: (cells: readonly DayCell[], name: string) => Stretch,
  logs: (cells: readonly DayCell[]) => ReturnType<typeof logLift>,
): FirstWeek {
  const [early, later] = [days.filter((cell) => weekOf(cell) === 0), days.filter((cell) => weekOf(cell) > 0)]
  const whole = read(days, '').lift.interval
  const rest = read(later, '').lift
  const { pValue } = heterogeneity([logs(early), logs(later)])
  const isClear = (interval: LiftEstimate['interval']) => !!interval && (interval[0] > 0 || interval[1] < 0)
  return {
    first: read(early, '').lift,
    later: rest,
    pValue,
    carriesResult: isClear(whole) && rest.interval !== null && !isClear(rest.interval) && (pValue ?? 1) < DIFFERS,
  }
}
