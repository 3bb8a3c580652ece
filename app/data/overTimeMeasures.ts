import type { Series } from '~~/core/evidence/overTime'
import type { Period } from '~~/core/time/periods'
import type { DayValue } from '~~/core/history/aroundDay'

/** What can be drawn of visitors over time. */
export const MEASURES = [
  'visitors',
  'newVisitors',
  'returning',
  'sessions',
  'views',
  'weekly',
  'monthly',
  'converted',
  'rate',
  'sum',
] as const
export type Measure = (typeof MEASURES)[number]

export const MEASURE_WORDS: Record<Measure, string> = {
  visitors: 'Visitors',
  newVisitors: 'New visitors',
  returning: 'Returning visitors',
  sessions: 'Sessions',
  views: 'Page views',
  weekly: 'Active in 7 days',
  monthly: 'Active in 28 days',
  converted: 'Visitors who converted',
  rate: 'Conversion rate',
  sum: 'Sum of the metric',
}
/** The same as the title of a chart. */
export function measureTitle(measure: Measure, per: Period): string {
  return measure === 'visitors' ? `Visitors a ${per}` : MEASURE_WORDS[measure]
}
/** Those that need a metric. */
export const METRIC_MEASURES: readonly Measure[] = ['converted', 'rate', 'sum']

/** A measure day by day; null on days that have no value. */
export function measured(series: Series, measure: Measure): (number | null)[] {
  if (measure !== 'rate') return [...series[measure]]
  return series.converted.map((count, day) => (series.visitors[day] === 0 ? null : count / series.visitors[day]!))
}

/** A measure on the days that are over. */
export function finishedDays(days: readonly string[], series: Series, measure: Measure, timeZone: string): DayValue[] {
  const unfinished = unfinishedDay(timeZone)
  return measured(series, measure)
    .map((value, index) => ({ day: days[index]!, value }))
    .filter(({ day }) => day < unfinished)
}
