import type { MetricKind } from '../statistics/estimate'
import { matchesPageRule, type PageRule } from '../targeting/pageRule'
import { MATCH_WORDS, PART_WORDS } from '../targeting/pageWords'
import { countingOf, type CountedKind, type StepTest } from './counting'
import { isWithin } from './elementPath'
import { detailInWords, saysDetail, type DetailTest, type EventDetails } from './eventDetails'

/** What in a visitor's events a metric counts; `counting.ts` says how. */
export type MetricSource = StepSource | VisitSource

/** What is counted of single steps. */
export type StepSource =
  /** a visited address */
  | { type: 'visit'; page: PageRule }
  /** a click on an element */
  | { type: 'click'; selector: string; page?: PageRule | null }
  /** a submitted form */
  | { type: 'submit'; selector: string; page?: PageRule | null }
  /** an amount shown on a page, and where the number of its order stands */
  | { type: 'pageAmount'; page: PageRule; selector: string; reference?: OrderReference | null }
  /** a named event sent by the page, with or without an amount */
  | { type: 'event'; name: string; page?: PageRule | null; detail?: DetailTest | null }
  /** a click on a link, or any form that is sent; without a page, on the tested pages of an experiment */
  | { type: 'engagement'; page?: PageRule | null }
  /** an error on a page */
  | { type: 'error'; page?: PageRule | null }
  /** seconds in which a page could be seen, where a site collects them */
  | { type: 'timeInView'; page?: PageRule | null }

/** What is counted of whole visits. */
export type VisitSource =
  /** visits, visits of a single page, or the seconds from a visit’s first page to its last */
  | { type: 'visits' | 'bounces' | 'visitTime' }
  /** a visit that follows an earlier one within so many days */
  | { type: 'return'; days: number }

/** Where on the page, or in its address, the number of an order stands. */
export type OrderReference = { selector: string } | { parameter: string }

/** The parts of an event that metrics look at. */
export interface MeasuredEvent {
  /** Sorts by time within one page view. */
  id: string
  /** ms since 1970 */
  at: number
  /** The page view it happened in; of a page view, itself. */
  view: string
  type: CountedKind
  address: string
  /** Path of the element that was clicked, or of the form that was submitted; see `elementPath.ts`. */
  element?: string | null
  /** Of a custom event its name, of an amount the selector that it was read from. */
  name?: string | null
  /** In the site's currency, of a reading in seconds; null for an event without an amount. */
  amount?: number | null
  /** It has an amount in a currency that the site has no rate for. */
  isUnconverted?: boolean
  /** Of an amount of money, how it was told: what it counts as may change with the site's currency and rates. */
  told?: { amount: number; currency: string } | null
  /** Same for all events that tell of the same thing, which counts once. */
  once?: string | null
  /** Of a custom event, what the page's code says of it. */
  details?: EventDetails | null
}

/** What a metric is made of. */
export interface MetricDefinition {
  kind: MetricKind
  /** What is counted; of a ratio, the numerator. */
  source: MetricSource
  /** Of a ratio. */
  denominator?: MetricSource | null
  /** Most that a visitor's sum counts as (of a ratio, the upper one), so that few outliers do not decide; null for no cap. */
  cap?: number | null
  /**
   * The observation window: for how many days after the first exposure a visitor is measured. A visitor counts once
   * they are over, so that everybody had the same time. Null for as long as the experiment runs.
   */
  windowDays?: number | null
}

/** Whether an event is one that the source counts. What whole visits are counted by is no event's: see `visitSum`. */
export function isCounted(source: MetricSource, event: MeasuredEvent): boolean {
  const counting = countingOf(source)
  if (counting.of === 'visits') return false
  const { pages, anyOf } = counting
  if (pages && pages !== 'tested' && !matchesPageRule(pages, event.address)) return false
  return anyOf.some((test) => fits(test, event))
}

function fits({ kind, within, name, detail }: StepTest, event: MeasuredEvent): boolean {
  return (
    event.type === kind &&
    (within === undefined || (!!event.element && isWithin(event.element, within))) &&
    (name === undefined || event.name === name) &&
    (!detail || saysDetail(detail, event.details))
  )
}

/** Whether whole visits are counted, and not what happens in them. */
export function isOfVisits(source: MetricSource): source is VisitSource {
  return countingOf(source).of === 'visits'
}

/**
 * What an event adds to a source's sum: its amount, or one where it has none. An amount that cannot be converted adds
 * nothing.
 */
export function countedAmount(source: MetricSource, event: MeasuredEvent): number {
  if (!isCounted(source, event) || event.isUnconverted) return 0
  return countingOf(source).adds === 'one' ? 1 : (event.amount ?? 1)
}

/** One line that says what a source counts. */
export function describeSource(source: MetricSource): string {
  switch (source.type) {
    case 'visit':
      return `visits of ${addressInWords(source.page)}`
    case 'click':
      return `clicks on ${source.selector}${onPages(source.page)}`
    case 'submit':
      return `submissions of the form ${source.selector}${onPages(source.page)}`
    case 'pageAmount':
      return `the amount in ${source.selector} on ${addressInWords(source.page)}`
    case 'event':
      return `events named ${source.name}${source.detail ? ` of which ${detailInWords(source.detail)}` : ''}${onPages(source.page)}`
    case 'engagement':
      return `clicks on links and forms that are sent${source.page ? onPages(source.page) : ' on the tested pages'}`
    case 'error':
      return `errors of pages${onPages(source.page)}`
    case 'timeInView':
      return `seconds in which a page could be seen${onPages(source.page)}`
    case 'visits':
      return 'visits of the site'
    case 'bounces':
      return 'visits that saw one page'
    case 'visitTime':
      return 'seconds from the first page of a visit to its last'
    case 'return':
      return `visits within ${source.days} ${source.days === 1 ? 'day' : 'days'} after an earlier one`
  }
}

function addressInWords(page: PageRule): string {
  const { match, value, parameter } = page
  const part = page.part ?? 'page'
  if (part === 'page' && match === 'exact') return value
  const what = part === 'page' ? 'an address that' : `an address whose ${parameter ?? PART_WORDS[part]}`
  return `${what} ${MATCH_WORDS[match]} ${value}`.trim()
}

function onPages(page: PageRule | null | undefined): string {
  return page ? ` on ${addressInWords(page)}` : ''
}

const KIND_WORDS = {
  conversion: 'yes or no, once per visitor',
  mean: 'added up per visitor',
  ratio: 'both added up over all visitors',
} as const

/** What a metric counts, as half a sentence. */
export function describeMetric({ kind, source, denominator, cap = null, windowDays = null }: MetricDefinition): string {
  const counted =
    kind === 'ratio' && denominator
      ? `${describeSource(source)}, divided by ${describeSource(denominator)}`
      : describeSource(source)
  const most = kind === 'conversion' || cap === null ? '' : `, and counts as at most ${cap.toLocaleString('en-US')}`
  return `${counted}; ${KIND_WORDS[kind]}${most}${windowDays === null ? '' : windowInWords(windowDays)}`
}

/** The same of a metric of an experiment, with from when on it counts. */
export function describeMeasured(metric: MetricDefinition): string {
  return `${describeMetric(metric)}${metric.windowDays ? '' : ', from the first exposure on'}`
}

/** What an observation window means, as half a sentence. */
function windowInWords(days: number): string {
  return days === 1
    ? ', for 1 day from the first exposure on; a visitor counts once it is over'
    : `, for ${days} days from the first exposure on; a visitor counts once they are over`
}
