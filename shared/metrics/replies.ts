import { lazy, mixed } from '../yup'
import { metricSourceSchema } from './metricSchema'
import type { CountedEvent, MetricEntry, MetricFigures, MetricFiguresView, MetricProposal, MetricTrial } from './metric'
import { amount, anything, exactly, id, listOf, moment, oneOf, text, whole } from '../api/replyPieces'

const definition = {
  kind: oneOf<MetricEntry['kind']>('conversion', 'mean', 'ratio'),
  source: metricSourceSchema,
  denominator: lazy((source: unknown) => (source === null ? mixed().nullable() : metricSourceSchema)),
  cap: amount().nullable(),
  windowDays: whole().nullable(),
}
const figures = exactly<MetricFigures>({
  visitors: whole(),
  converters: whole(),
  value: amount().nullable(),
  visibleLift: amount().nullable(),
})

const place = { from: text(), to: text(), timeZone: text(), currency: text() }

export const metricsReply = listOf(
  exactly<MetricEntry>({
    id: text(),
    name: text(),
    version: id(),
    ...definition,
    experiments: listOf(
      exactly<MetricEntry['experiments'][number]>({
        id: id(),
        name: text(),
        state: oneOf<MetricEntry['experiments'][number]['state']>('draft', 'running', 'paused', 'ended'),
      }),
    ),
    hypotheses: listOf(exactly<MetricEntry['hypotheses'][number]>({ id: id(), title: text() })),
  }),
)
export const figuresReply = exactly<MetricFiguresView>({ ...place, figures: anything() })
export const proposalsReply = listOf(
  exactly<MetricProposal>({
    name: text(),
    reason: text(),
    direction: oneOf<MetricProposal['direction']>('up', 'down'),
    ...definition,
  }),
)
export const trialReply = exactly<MetricTrial>({
  ...place,
  figures,
  sample: listOf(
    exactly<CountedEvent>({
      at: moment(),
      visitor: text(),
      page: text(),

      what: text().nullable(),
      amount: amount().nullable(),
    }),
  ),
})
