import type { MetricAnalysis, VariantComparison } from '../../core/analysis/analysis'
import { shortfallInWords } from '../../core/verdict/verdict'
import type { PrintedAnalysis } from '../analyze'

/** The analysis as text for people: one table a metric. */
export function formatAnalysis(analysis: PrintedAnalysis): string {
  const { allocation } = analysis
  const lines = [
    `${count(analysis.visitors)} visitors${analysis.skippedRows > 0 ? `, ${count(analysis.skippedRows)} rows skipped` : ''}`,
    `Allocation: ${Object.entries(allocation.observed)
      .map(([arm, visitors]) => `${arm} ${count(visitors)} (expected ${count(allocation.expected[arm]!)})`)
      .join(', ')}; p ${p(allocation.pValue)}, at any look ${p(allocation.sequentialPValue)}`,
  ]
  if (allocation.alarm)
    lines.push('ALARM: the visitors are not split as the weights say. Find the cause before reading any result.')
  lines.push(...analysis.notes)
  for (const metric of analysis.metrics) lines.push('', ...metricLines(metric, analysis.alpha))
  return `${lines.join('\n')}\n`
}

function metricLines(metric: MetricAnalysis, alpha: number): string[] {
  const level = `${Number((100 * (1 - alpha)).toFixed(4))} %`
  const rows = [
    [
      '',
      'visitors',
      metric.kind === 'conversion' ? 'rate' : metric.kind,
      'lift',
      `${level}, any look`,
      'p, any look',
      `${level}, one look`,
      'p, one look',
      'adjusted',
      'P(better)',
      'P(best)',
    ],
  ]
  for (const [arm, estimate] of Object.entries(metric.arms)) {
    const comparison = metric.comparisons.find((each) => each.variant === arm)
    rows.push([
      arm,
      count(estimate.visitors),
      metric.kind === 'conversion' ? percent(estimate.mean, false) : number(estimate.mean),
      ...(comparison ? readings(comparison) : ['', '', '', '', '', '', '']),
      probability(metric.probabilityBest[arm] ?? null),
    ])
  }
  const notes = metric.comparisons.flatMap((comparison) => [
    ...shortfallNote(comparison),
    ...reductionNote(comparison),
    ...segmentNotes(comparison),
  ])
  const effects =
    metric.factorial?.effects.map(
      (effect) =>
        `  effect of ${effect.factors.map((factor, index) => `${factor} ${effect.levels[index]}`).join(' × ')}: ${number(effect.estimate)} [${effect.interval.map(number).join(', ')}], p ${p(effect.pValue)}`,
    ) ?? []
  return [
    `${metric.name} (${metric.kind}, ${metric.role}, ${metric.direction} is better)`,
    ...align(rows),
    ...notes,
    ...effects,
  ]
}

function readings({ lift, sequential, pValue, adjustedPValue, posterior }: VariantComparison): string[] {
  return [
    percent(lift.estimate),
    interval(sequential.lift.interval),
    p(sequential.pValue),
    interval(lift.interval),
    p(pValue),
    p(adjustedPValue),
    probability(posterior.probabilityBetter),
  ]
}

function shortfallNote({ variant, shortfall }: VariantComparison): string[] {
  return shortfall ? [`  ${variant}: not enough to read yet. ${shortfallInWords(shortfall, variant)}`] : []
}

function reductionNote({ variant, varianceReduction }: VariantComparison): string[] {
  if (!varianceReduction) return []
  const { theta, shareRemoved, difference, pValue, why } = varianceReduction
  if (why) return [`  ${variant} with covariate: ${why}`]
  return [
    `  ${variant} with covariate: difference ${number(difference.estimate)} [${difference.interval?.map(number).join(', ') ?? '–'}], p ${p(pValue)}; theta ${number(theta)}, ${percent(shareRemoved, false)} of the variance removed`,
  ]
}

function segmentNotes({ variant, segments }: VariantComparison): string[] {
  return Object.entries(segments ?? {}).flatMap(([segment, { values, heterogeneity }]) => [
    `  ${variant} by ${segment}: differ between segments p ${p(heterogeneity.pValue)}`,
    ...Object.entries(values).map(
      ([value, reading]) =>
        `    ${value}: ${percent(reading.lift.estimate)} ${interval(reading.lift.interval)}, p ${p(reading.pValue)}, adjusted ${p(reading.adjustedPValue)}, ${count(reading.visitors)} visitors`,
    ),
  ])
}

/** Columns of equal width, numbers to the right. */
function align(rows: readonly (readonly string[])[]): string[] {
  const widths = rows[0]!.map((_, column) => Math.max(...rows.map((row) => row[column]!.length)))
  return rows.map((row) =>
    `  ${row.map((cell, column) => (column === 0 ? cell.padEnd(widths[column]!) : cell.padStart(widths[column]!))).join('  ')}`.trimEnd(),
  )
}

function count(visitors: number): string {
  return Math.round(visitors).toLocaleString('en-US')
}

function number(value: number | null): string {
  return value === null ? '–' : String(Number(value.toPrecision(5)))
}

function percent(share: number | null, signed = true): string {
  if (share === null) return '–'
  return `${signed && share > 0 ? '+' : ''}${(share * 100).toFixed(2)} %`
}

function interval(ends: readonly number[] | null): string {
  return ends === null ? 'no bounds' : `[${ends.map((end) => percent(end)).join(', ')}]`
}

function p(value: number | null): string {
  if (value === null) return '–'
  return value < 0.0001 ? value.toExponential(1) : value.toFixed(4)
}

function probability(value: number | null): string {
  return value === null ? '–' : `${(value * 100).toFixed(1)} %`
}
