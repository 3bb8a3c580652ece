import { mixed, tuple, type Schema, type InferType } from '../yup'
import type { Quartiles } from '../../core/evidence/quartiles'
import type { FunnelInput } from './funnel'
import type { MetricSource } from '../../core/measurement/metric'
import { CANDIDATE_RULES } from '../../core/evidence/candidates/candidates'
import { CELLS } from '../../core/evidence/clickMap'
import { BANDS } from '../../core/evidence/behavior'
import { DIMENSIONS, STEP_KINDS } from '../../core/evidence/visits'
import { amount, anything, exactly, id, listOf, moment, oneOf, text, whole, yesOrNo } from '../api/replyPieces'

const counts = () => listOf(amount())
const figures = {
  views: whole(),
  visitors: whole(),
  sessions: whole(),
  entries: whole(),
  exits: whole(),
  bounces: whole(),
  seen: amount(),
  told: whole(),
  errors: whole(),
  conversions: whole(),
  converters: whole(),
}

const pageRow = exactly({
  ...figures,
  page: text(),
  days: listOf(whole()),
  before: exactly(figures).nullable(),
})
/** Figures of a page, with those of as many days before. */
export type PageRow = InferType<typeof pageRow>

export const pagesReply = exactly({
  days: listOf(text()),
  /** Pages with fewer views, which are not among them. */
  others: whole(),
  sessions: whole(),
  visitors: whole(),
  pages: listOf(pageRow),
})
export type PagesView = InferType<typeof pagesReply>

const flow = listOf(exactly({ name: text().nullable(), views: whole() }))
export const flowReply = exactly({ before: flow, after: flow, sources: flow })

const total = exactly({ visitors: whole(), sessions: whole(), views: whole() })
export const overTimeReply = exactly({
  days: listOf(text()),
  series: listOf(
    exactly({
      value: text().nullable(),
      visitors: counts(),
      newVisitors: counts(),
      returning: counts(),
      sessions: counts(),
      views: counts(),
      weekly: counts(),
      monthly: counts(),
      converted: counts(),
      sum: counts(),
    }),
  ),
  total,
  /** In as many days before. */
  before: total,
})
export type OverTimeView = InferType<typeof overTimeReply>

export const eventsReply = exactly({
  days: listOf(text()),
  /** `last` in ms since 1970 */
  kinds: listOf(
    exactly({
      kind: oneOf(...STEP_KINDS),
      name: text().nullable(),
      count: whole(),
      visitors: whole(),
      days: listOf(whole()),
      last: amount(),
      page: text(),
    }),
  ),
  refusals: listOf(exactly({ reason: text(), events: whole(), lastDay: text() })),
})
export type EventsView = InferType<typeof eventsReply>

const quartiles = () => tuple([amount(), amount(), amount()]).strict().nullable().defined() as Schema<Quartiles | null>
export const formsReply = exactly({
  forms: listOf(
    exactly({
      page: text(),
      form: text(),
      seen: whole(),
      visitors: whole(),
      begun: whole(),
      sent: whole(),
      fields: listOf(
        exactly({
          name: text(),
          label: text(),
          kind: text(),
          reached: whole(),
          time: quartiles(),
          hesitation: quartiles(),
          refilled: whole(),
          blank: whole(),
          left: whole(),
        }),
      ),
    }),
  ),
})
export type FormsView = InferType<typeof formsReply>

const cell = mixed<[cell: number, clicks: number]>()
  .defined()
  .test(
    'cell',
    '${path} is no cell with its clicks',
    (value) => Array.isArray(value) && value.length === 2 && Number(value[0]) < CELLS * CELLS && Number(value[1]) > 0,
  )
export const clicksReply = exactly({
  clicks: whole(),
  visitors: whole(),
  elements: listOf(
    exactly({
      path: text(),
      label: text().nullable(),
      clicks: whole(),
      visitors: whole(),
      cells: listOf(cell),
    }),
  ),
  others: whole(),
})

export const readingReply = exactly({
  sessions: whole(),
  visitors: whole(),
  height: whole().nullable(),
  reach: listOf(whole()).length(BANDS),
  attention: listOf(amount()).length(BANDS),
})

export const funnelReply = exactly({
  steps: listOf(exactly({ reached: whole(), time: quartiles() })),
  visitors: whole(),
  days: exactly({ began: listOf(whole()), ended: listOf(whole()) }),
  dayNames: listOf(text()),
})
export type FunnelView = InferType<typeof funnelReply>

export const leftReply = exactly({
  visitors: listOf(exactly({ visitor: text(), at: moment() })),
})
/** Visitors with the moment at which they took their last step. */
export type LeftView = InferType<typeof leftReply>

const sampledEvent = exactly({
  at: moment(),
  visitor: text(),
  page: text(),
  element: text().nullable(),
  label: text().nullable(),
  name: text().nullable(),
  amount: text().nullable(),
  properties: anything<object>().nullable(),
})
/** An event as it was told. */
export type SampledEvent = InferType<typeof sampledEvent>

export const eventSampleReply = listOf(sampledEvent)
const larger = () => {
  const share = () => exactly({ count: whole(), of: whole() })
  return { page: text(), marked: share(), others: share(), p: amount() }
}
export const candidatesReply = exactly({
  slowFields: listOf(
    exactly({
      page: text(),
      form: text(),
      field: text(),
      median: amount(),
      otherMedian: amount(),
      p: amount(),
      visitors: whole(),
      others: whole(),
    }),
  ),
  leftFields: listOf(exactly({ ...larger(), form: text(), field: text() })),
  deadElements: listOf(exactly({ ...larger(), path: text(), element: text() })),
  risingExits: listOf(exactly(larger())),
  rules: listOf(
    exactly({
      rule: oneOf(...CANDIDATE_RULES),
      tested: whole(),
      falseAlarms: exactly({ rounds: whole(), alarms: whole() }),
    }),
  ),
})
export const statementReply = exactly({ sql: text() })

export const savedFunnelReply = exactly({
  id: id(),
  name: text(),
  plan: anything<FunnelInput>(),
  person: text().nullable(),
  createdAt: moment(),
})
export type SavedFunnel = InferType<typeof savedFunnelReply>

export const funnelsReply = listOf(savedFunnelReply)

export const choicesReply = exactly({
  dimensions: listOf(exactly({ dimension: oneOf(...DIMENSIONS), values: listOf(text()) })),
  /** What pages said of visitors: plan=gold. */
  attributes: listOf(text()),
  metrics: listOf(
    exactly({
      id: text(),
      name: text(),
      kind: oneOf('conversion', 'mean', 'ratio'),
      source: anything<MetricSource>(),
      isMoney: yesOrNo(),
    }),
  ),
  variants: listOf(
    exactly({
      experimentId: id(),
      experiment: text(),
      position: whole(),
      variant: text(),
    }),
  ),
  /** Pages of the last four weeks, those with the most views first. */
  pages: listOf(text()),
  currency: text(),
  /** Of how many visitors behavior is collected, of 10,000. */
  behaviorShare: whole(),
  /** Whether any visitor has ever reported. */
  hasReported: yesOrNo(),
})
/** What reports can be asked by: values that there were lately, metrics, variants. */
export type EvidenceChoices = InferType<typeof choicesReply>

export const addressesReply = exactly({
  /** Of the site. */
  host: text(),
  addresses: listOf(exactly({ address: text(), visitors: amount() })),
})
/** Addresses that occurred lately, those with the most visitors first. */
export type AddressesView = InferType<typeof addressesReply>
