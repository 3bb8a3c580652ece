import type { MetricDefinition, MetricSource } from '../../core/measurement/metric'
import type { MetricKind } from '../../core/statistics/estimate'
import { metricSchema } from './metricSchema'
import { object, string } from '../yup'

export const metricNameSchema = object({
  name: string().trim().max(100, 'The name is longer than 100 characters.').required('Give the metric a name.'),
})

/** A definition that nobody has kept yet. */
export const metricTrialSchema = metricSchema.pick(['kind', 'source', 'denominator', 'cap'])

/** A metric of the site with its latest definition, and who uses it. */
export interface MetricEntry {
  id: string
  name: string
  kind: MetricKind
  source: MetricSource
  denominator: MetricSource | null
  cap: number | null
  windowDays: number | null
  /** Of the latest definition; earlier ones measure experiments that were started with them. */
  version: number
  experiments: { id: number; name: string; state: 'draft' | 'running' | 'paused' | 'ended' }[]
  hypotheses: { id: number; title: string }[]
}

/** What a metric came to in four whole weeks, over all visitors of the site. */
export interface MetricFigures {
  visitors: number
  /** Visitors of whom something was counted. */
  converters: number
  /** A rate, a mean, or a ratio; null without anything to divide by. */
  value: number | null
  /** The smallest lift that four weeks of all visitors show; null for a ratio, and where none can be shown. */
  visibleLift: number | null
}

export interface MetricFiguresView {
  from: string
  to: string
  /** Of the site. */
  timeZone: string
  currency: string
  /** By the metric's id. */
  figures: Record<string, MetricFigures>
}

/** A metric that the site does not have, and that its events suggest. */
export interface MetricProposal extends Required<MetricDefinition> {
  name: string
  direction: 'up' | 'down'
  /** Why it is proposed, in a sentence. */
  reason: string
}

/** One event that a definition counts. */
export interface CountedEvent {
  at: string
  visitor: string
  page: string
  /** What was clicked or sent, or how a visit was, in words; null for a page view. */
  what: string | null
  amount: number | null
}

/** What a definition counts, before it is kept. */
export interface MetricTrial extends Omit<MetricFiguresView, 'figures'> {
  figures: MetricFigures
  /** The latest. */
  sample: CountedEvent[]
}
