import { amount, anything, deciding, exactly, id, listOf, moment, oneOf, text, whole } from '../api/replyPieces'
import type { MetricSource } from '../../core/measurement/metric'
import { lazy, mixed } from '../yup'
import { metricSourceSchema } from './metricSchema'
import type { MetricEntry, MetricFigures, MetricProposal } from './metric'

const definition = {
  kind: oneOf<MetricEntry['kind']>('conversion', 'mean', 'ratio'),
  source: deciding<MetricSource>(metricSourceSchema),
  denominator: deciding<MetricSource | null>(
    lazy((source: unknown) => (source === null ? mixed().nullable() : metricSourceSchema)),
  ),
  cap: amount().nullable(),
  windowDays: whole().nullable(),
}
const figures = exactly({
  visitors: whole(),
  converters: whole(),
  value: amount().nullable(),
  visibleLift: amount().nullable(),
})

const place = { from: text(), to: text(), timeZone: text(), currency: text() }

export const metricsReply = listOf(
  exactly({
    id: text(),
    name: text(),
    version: id(),
    ...definition,
    experiments: listOf(
      exactly({
        id: id(),
        name: text(),
        state: oneOf<MetricEntry['experiments'][number]['state']>('draft', 'running', 'paused', 'ended'),
      }),
    ),
    hypotheses: listOf(exactly({ id: id(), title: text() })),
  }),
)
export const figuresReply = exactly({ ...place, figures: anything<Record<string, MetricFigures>>() })
export const proposalsReply = listOf(
  exactly({
    name: text(),
    reason: text(),
    direction: oneOf<MetricProposal['direction']>('up', 'down'),
    ...definition,
  }),
)
export const trialReply = exactly({
  ...place,
  figures,
  sample: listOf(
    exactly({
      at: moment(),
      visitor: text(),
      page: text(),

      what: text().nullable(),
      amount: amount().nullable(),
    }),
  ),
})
