import { amount, anything, deciding, exactly, id, listOf, moment, oneOf, text, whole } from '../api/replyPieces'
import type { MetricSource } from '../../core/measurement/metric'
import { lazy, mixed, type InferType } from '../yup'
import { metricSourceSchema } from './metricSchema'

/** What a metric is made of. */
export const metricDefinition = {
  kind: oneOf('conversion', 'mean', 'ratio'),
  source: deciding<MetricSource>(metricSourceSchema),
  denominator: deciding<MetricSource | null>(
    lazy((source: unknown) => (source === null ? mixed().nullable() : metricSourceSchema)),
  ),
  cap: amount().nullable(),
  windowDays: whole().nullable(),
}
const figures = exactly({
  visitors: whole(),
  /** Visitors of whom something was counted. */
  converters: whole(),
  /** A rate, a mean, or a ratio; null without anything to divide by. */
  value: amount().nullable(),
  /** The smallest lift that four weeks of all visitors show; null for a ratio, and where none can be shown. */
  visibleLift: amount().nullable(),
})
/** What a metric came to in four whole weeks, over all visitors of the site. */
export type MetricFigures = InferType<typeof figures>

const place = {
  from: text(),
  to: text(),
  /** Of the site. */
  timeZone: text(),
  currency: text(),
}

const metricEntry = exactly({
  id: text(),
  name: text(),
  /** Of the latest definition; earlier ones measure experiments that were started with them. */
  version: id(),
  ...metricDefinition,
  experiments: listOf(
    exactly({
      id: id(),
      name: text(),
      state: oneOf('draft', 'running', 'paused', 'ended'),
    }),
  ),
  hypotheses: listOf(exactly({ id: id(), title: text() })),
})
/** A metric of the site with its latest definition, and who uses it. */
export type MetricEntry = InferType<typeof metricEntry>

export const metricsReply = listOf(metricEntry)
export const figuresReply = exactly({
  ...place,
  /** By the metric's id. */
  figures: anything<Record<string, MetricFigures>>(),
})
export type MetricFiguresView = InferType<typeof figuresReply>

const metricProposal = exactly({
  name: text(),
  /** Why it is proposed, in a sentence. */
  reason: text(),
  direction: oneOf('up', 'down'),
  ...metricDefinition,
})
/** A metric that the site does not have, and that its events suggest. */
export type MetricProposal = InferType<typeof metricProposal>

export const proposalsReply = listOf(metricProposal)
const countedEvent = exactly({
  at: moment(),
  visitor: text(),
  page: text(),
  /** What was clicked or sent, or how a visit was, in words; null for a page view. */
  what: text().nullable(),
  amount: amount().nullable(),
})
/** One event that a definition counts. */
export type CountedEvent = InferType<typeof countedEvent>

export const trialReply = exactly({
  ...place,
  figures,
  /** The latest. */
  sample: listOf(countedEvent),
})
/** What a definition counts, before it is kept. */
export type MetricTrial = InferType<typeof trialReply>
