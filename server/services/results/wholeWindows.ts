import type { ExperimentSheet, MetricView } from '../../../shared/experiments/replies'
import { HOUR } from '../../../core/time/units'
import { dayAfter, siteDays } from '../../../core/time/siteDay'

/** Where clocks are put forward, a day is this much shorter. */
const SHORTER_DAY = HOUR

/** Of a metric with an observation window, the last day of first exposures whose windows are over. */
export interface WholeWindow {
  experiment: number
  metric: number
  lastDay: string
}

/**
 * The last day of first exposures whose visitors count for a metric: those whose observation window is over, and was
 * over before the experiment ended.
 *
 * @param now - moment that the numbers are of
 * @returns a day in the site's time zone; null for a metric without a window, for which everybody counts
 */
export function lastWholeDay(
  { endedAt, timeZone }: Pick<ExperimentSheet, 'endedAt' | 'timeZone'>,
  { windowDays }: Pick<MetricView, 'windowDays'>,
  now: Date,
): string | null {
  if (windowDays === null) return null
  const until = Math.min(now.getTime(), endedAt === null ? Infinity : Date.parse(endedAt))
  return dayAfter(siteDays(timeZone)(until - SHORTER_DAY), -windowDays - 1)
}

/** The windows of all metrics that have one. */
export function wholeWindows(sheets: readonly ExperimentSheet[], now: Date): WholeWindow[] {
  return sheets.flatMap((sheet) =>
    sheet.metrics.flatMap((metric) => {
      const lastDay = lastWholeDay(sheet, metric, now)
      return lastDay === null ? [] : [{ experiment: sheet.id, metric: metric.versionId, lastDay }]
    }),
  )
}
