import type { MetricSource } from '../core/measurement/metric'
import type { MetricKind } from '../core/statistics/estimate'

const whole = new Intl.NumberFormat('en-US')

/** 12,340 */
export function formatCount(count: number): string {
  return whole.format(count)
}

/**
 * A count with what it counts.
 *
 * @example countOf(1, 'visitor') // '1 visitor'
 * @example countOf(2, 'hypothesis', 'hypotheses') // '2 hypotheses'
 */
export function countOf(count: number, one: string, many = `${one}s`): string {
  return `${formatCount(count)} ${count === 1 ? one : many}`
}

/** 8.24 % */
export function formatShare(share: number | null, digits = 2): string {
  return share === null ? '–' : `${(share * 100).toFixed(digits).replace(/^-(?=[0.]+$)/, '')} %`
}

/** 2.5 %: as it was typed */
export function formatPercent(share: number): string {
  return `${Number((share * 100).toFixed(4))} %`
}

/** €1,284.50 */
export function formatAmount(amount: number, currency: string): string {
  return new Intl.NumberFormat('en-US', { style: 'currency', currency }).format(amount)
}

/** 0.0412 or 1,284.5: four digits that count */
export function formatNumber(value: number): string {
  return new Intl.NumberFormat('en-US', { maximumSignificantDigits: 4 }).format(value)
}

type MeasuredBy = { kind: MetricKind; source: MetricSource; denominator?: MetricSource | null }

/** Whether a metric's sums are money. */
export function isMoney(metric: MeasuredBy): boolean {
  return unitOf(metric) === 'money'
}

function unitOf({ kind, source, denominator }: MeasuredBy): 'share' | 'money' | 'seconds' | 'number' {
  if (kind === 'conversion') return 'share'
  switch (source.type) {
    case 'pageAmount':
    case 'event':
      return 'money'
    case 'timeInView':
    case 'visitTime':
      return 'seconds'
    case 'bounces':
      return kind === 'ratio' && denominator?.type === 'visits' ? 'share' : 'number'
    default:
      return 'number'
  }
}

/** A metric's value in its own unit: 8.24 %, €12.40, 0.412 */
export function formatMetric(metric: MeasuredBy, value: number | null, currency: string): string {
  if (value === null) return '–'
  return unitOf(metric) === 'share' ? formatShare(value) : formatUnits(metric, value, currency)
}

function formatUnits(metric: MeasuredBy, value: number, currency: string): string {
  const unit = unitOf(metric)
  if (unit === 'money') return formatAmount(value, currency)
  return unit === 'seconds' ? `${formatNumber(value)} s` : formatNumber(value)
}

/** A difference of a metric's values: +2.54 points, −€1.20 */
export function formatDifference(metric: MeasuredBy, difference: number | null, currency: string): string {
  if (difference === null) return '–'
  const size = Math.abs(difference)
  const text =
    unitOf(metric) === 'share'
      ? `${formatNumber(Number((size * 100).toFixed(3)))} points`
      : formatUnits(metric, size, currency)
  return `${difference < 0 ? '−' : '+'}${text}`
}

/** A sum of a metric's numerators: conversions, money or a count */
export function formatSum(metric: MeasuredBy, sum: number, currency: string): string {
  if (unitOf(metric) === 'seconds') return `${formatCount(Math.round(sum))} s`
  return isMoney(metric) ? formatAmount(sum, currency) : formatCount(sum)
}

/** +4.1 %, with a sign unless it is nothing */
export function formatLift(lift: number | null, digits = 1): string {
  if (lift === null) return '–'
  const text = Math.abs(lift * 100).toFixed(digits)
  return `${Number(text) === 0 ? '' : lift < 0 ? '−' : '+'}${text} %`
}

/** −1.2 % to +8.4 % */
export function formatInterval(interval: readonly [number, number] | null): string {
  return interval ? `${formatLift(interval[0])} to ${formatLift(interval[1])}` : 'no bounds'
}

/** 0.034, or < 0.001 */
export function formatPValue(p: number | null): string {
  if (p === null) return '–'
  return p < 0.001 ? '< 0.001' : p.toFixed(3)
}

/** p = 0.034, or p < 0.001 */
export function formatPEquals(p: number): string {
  return p < 0.001 ? 'p < 0.001' : `p = ${p.toFixed(3)}`
}

/** Nov 23, 2026, 14:05 in the site's time zone */
export function formatTime(iso: string, timeZone: string): string {
  return new Intl.DateTimeFormat('en-US', {
    timeZone,
    month: 'short',
    day: 'numeric',
    year: 'numeric',
    hour: '2-digit',
    minute: '2-digit',
    hourCycle: 'h23',
  }).format(new Date(iso))
}

/** 14:05:09 in the site's time zone */
export function formatClock(iso: string, timeZone: string): string {
  return new Intl.DateTimeFormat('en-US', { timeZone, timeStyle: 'medium', hourCycle: 'h23' }).format(new Date(iso))
}

/** Nov 23, 2026 in the site's time zone */
export function formatDate(at: number | string, timeZone: string): string {
  return new Intl.DateTimeFormat('en-US', { timeZone, month: 'short', day: 'numeric', year: 'numeric' }).format(
    new Date(at),
  )
}

/** A for the control, B and on for the variants */
export function variantLetter(position: number): string {
  return String.fromCharCode(65 + position)
}
