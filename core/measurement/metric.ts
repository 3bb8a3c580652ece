import type { MetricKind } from '../statistics/estimate'
import { matchesPageRule, type PageRule } from '../targeting/pageRule'
import { isWithin } from './elementPath'

/** What in a visitor's events a metric counts. */
export type MetricSource =
  /** a visited address */
  | { type: 'visit'; page: PageRule }
  /** a click on an element */
  | { type: 'click'; selector: string }
  /** a submitted form */
  | { type: 'submit'; selector: string }
  /** an amount shown on a page, and where the number of its order stands */
  | { type: 'pageAmount'; page: PageRule; selector: string; reference?: OrderReference | null }
  /** a named event sent by the page, with or without an amount */
  | { type: 'event'; name: string }

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
  type: 'page' | 'click' | 'submit' | 'amount' | 'custom'
  address: string
  /** Path of the element that was clicked, or of the form that was submitted; see `elementPath.ts`. */
  element?: string | null
  /** Of a custom event its name, of an amount the selector that it was read from. */
  name?: string | null
  /** In the site's currency; null for an event without an amount. */
  amount?: number | null
  /** It has an amount in a currency that the site has no rate for. */
  isUnconverted?: boolean
  /** Same for all events that tell of the same thing, which counts once. */
  once?: string | null
}

/** What a metric is made of. */
export interface MetricDefinition {
  kind: MetricKind
  /** What is counted; of a ratio, the numerator. */
  source: MetricSource
  /** Of a ratio. */
  denominator?: MetricSource | null
}

/** Whether an event is one that the source counts. */
export function isCounted(source: MetricSource, event: MeasuredEvent): boolean {
  switch (source.type) {
    case 'visit':
      return event.type === 'page' && matchesPageRule(source.page, event.address)
    case 'click':
    case 'submit':
      return event.type === source.type && !!event.element && isWithin(event.element, source.selector)
    case 'pageAmount':
      return event.type === 'amount' && event.name === source.selector && matchesPageRule(source.page, event.address)
    case 'event':
      return event.type === 'custom' && event.name === source.name
  }
}

/**
 * What an event adds to a source's sum: its amount, or one where it has none. An amount that cannot be converted adds
 * nothing.
 */
export function countedAmount(source: MetricSource, event: MeasuredEvent): number {
  if (!isCounted(source, event) || event.isUnconverted) return 0
  const carriesAmount = source.type === 'pageAmount' || source.type === 'event'
  return carriesAmount ? (event.amount ?? 1) : 1
}

/** One line that says what a source counts. */
export function describeSource(source: MetricSource): string {
  switch (source.type) {
    case 'visit':
      return `visits of an address that ${PAGE_WORDS[source.page.match]} ${source.page.value}`
    case 'click':
      return `clicks on ${source.selector}`
    case 'submit':
      return `submissions of the form ${source.selector}`
    case 'pageAmount':
      return `the amount in ${source.selector} on an address that ${PAGE_WORDS[source.page.match]} ${source.page.value}`
    case 'event':
      return `events named ${source.name}`
  }
}

const PAGE_WORDS = { exact: 'is', begins: 'begins with', contains: 'contains' } as const

const KIND_WORDS = {
  conversion: 'each visitor counts once, as 1 if it happened and else as 0',
  mean: 'each visitor’s amounts are summed up, 0 where there are none',
  ratio: 'both are summed up over all visitors',
} as const

/** What a metric counts, as half a sentence. */
export function describeMetric({
  kind,
  source,
  denominator,
}: Pick<MetricDefinition, 'kind' | 'source' | 'denominator'>): string {
  const counted =
    kind === 'ratio' && denominator
      ? `${describeSource(source)}, divided by ${describeSource(denominator)}`
      : describeSource(source)
  return `${counted}; ${KIND_WORDS[kind]}`
}
