import type { MetricKind } from '../statistics/estimate'
import { matchesPageRule, type PageRule } from '../targeting/pageRule'

/** What in a visitor's events a metric counts. */
export type MetricSource =
  /** a visited address */
  | { type: 'visit'; page: PageRule }
  /** a click on an element */
  | { type: 'click'; selector: string }
  /** a submitted form */
  | { type: 'submit'; selector: string }
  /** an amount shown on a page */
  | { type: 'pageAmount'; page: PageRule; selector: string }
  /** a named event sent by the page, with or without an amount */
  | { type: 'event'; name: string }

/** The parts of an event that metrics look at. */
export interface MeasuredEvent {
  type: 'page' | 'click' | 'submit' | 'amount' | 'custom'
  address: string
  /** Selectors of listened-to elements that the event happened on. */
  selectors?: readonly string[]
  name?: string
  amount?: number
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
      return event.type === 'click' && (event.selectors ?? []).includes(source.selector)
    case 'submit':
      return event.type === 'submit' && (event.selectors ?? []).includes(source.selector)
    case 'pageAmount':
      return (
        event.type === 'amount' &&
        (event.selectors ?? []).includes(source.selector) &&
        matchesPageRule(source.page, event.address)
      )
    case 'event':
      return event.type === 'custom' && event.name === source.name
  }
}

/**
 * One value of a visitor from their events since the first exposure.
 *
 * @param metric - what is measured
 * @param events - the visitor's events, in any order
 * @returns 1 or 0 for a conversion; else the sum of amounts, of a ratio that of its numerator
 */
export function visitorValue(metric: MetricDefinition, events: readonly MeasuredEvent[]): number {
  if (metric.kind === 'conversion') return events.some((event) => isCounted(metric.source, event)) ? 1 : 0
  return sumOf(metric.source, events)
}

/** The sum of amounts of everything that a source counts; an event without an amount adds 1. */
function sumOf(source: MetricSource, events: readonly MeasuredEvent[]): number {
  let sum = 0
  for (const event of events) if (isCounted(source, event)) sum += event.amount ?? 1
  // Amounts are decimals: 0.1 and 0.2 are to make 0.3, whatever the order.
  return Number(sum.toPrecision(15))
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
