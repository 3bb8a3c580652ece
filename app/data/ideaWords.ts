import type { Assessment, HypothesisSummary, IdeaMetric } from '~~/shared/hypotheses/replies'
import type { Expected } from '~~/core/hypotheses/worth'
import { pageRulesInWords } from '~~/core/targeting/pageWords'
import { readPage } from '~~/shared/evidence/filter'
import { formatCount, formatNumber, formatShare } from '~~/shared/formats'

/** Pages of a hypothesis in words. */
export function ideaPages(pages: string | null): string {
  const rule = pages === null ? null : readPage(pages)
  return rule ? pageRulesInWords([rule]) : 'all pages'
}

/** Money without cents: what is expected is not known to them. */
export function roundMoney(amount: number, currency: string): string {
  return new Intl.NumberFormat('en-US', { style: 'currency', currency, maximumFractionDigits: 0 })
    .format(amount)
    .replace(/^-(?=\D*0$)/, '')
    .replace(/^-/, '−')
}

/** Units of a metric, such as 15 or 1,240. */
export function roundUnits(units: number): string {
  const size = Math.abs(units) < 10 ? Number(units.toFixed(1)) : Math.round(units)
  return `${size < 0 ? '−' : ''}${formatNumber(Math.abs(size))}`
}

/** What a month is expected to bring, in money where that is known, else in units of the metric. */
export function gainInWords(assessment: Assessment | null, metric: IdeaMetric | undefined, currency: string): string {
  const worth = assessment?.worth
  if (!worth) return '–'
  return worth.money
    ? roundMoney(worth.money.expected, currency)
    : `${roundUnits(worth.gain.expected)} ${unitsOf(metric)}`
}

export function rangeInWords({ low, high }: Expected, show: (value: number) => string): string {
  return `${show(low)} to ${show(high)}`
}

/** What a metric counts, as it stands behind a number. */
export function unitsOf(metric: IdeaMetric | undefined): string {
  return metric ? metric.name.toLowerCase() : ''
}

/** Whether what is expected is complete, and what is missing otherwise. */
export function missingInWords(
  idea: Pick<HypothesisSummary, 'metric' | 'likely' | 'effortDays' | 'assessment'>,
): string | null {
  if (idea.metric === null) return 'Choose a metric: reach and rate are computed by it.'
  if (idea.assessment === null) return 'Reach and rate are being computed.'
  if (idea.likely === null) return 'Give a low, a likely and a high lift.'
  if (idea.effortDays === null) return 'Say how many days it takes.'
  return null
}

/** A chance in whole percent; what is nearly certain is not said to be. */
export function chanceInWords(chance: number | null): string {
  if (chance === null) return '–'
  if (chance > 0.995) return '> 99 %'
  return chance > 0 && chance < 0.005 ? '< 1 %' : formatShare(chance, 0)
}

/** 3 weeks */
export function weeksInWords(weeks: number | null | undefined): string {
  if (weeks === null || weeks === undefined) return '–'
  return `${formatCount(weeks)} week${weeks === 1 ? '' : 's'}`
}
