import { array, mixed } from '../yup'
import { CANDIDATE_RULES } from '../../core/evidence/candidates/candidates'
import type { FalseAlarms } from '../../core/evidence/candidates/rules'
import { CELLS } from '../../core/evidence/clickMap'
import { BANDS } from '../../core/evidence/behavior'
import { DIMENSIONS, STEP_KINDS } from '../../core/evidence/visits'
import type { Share } from '../../core/statistics/newcombe'
import type { SavedFunnel } from './funnel'
import type {
  AddressesView,
  CandidatesView,
  ClicksView,
  EventsView,
  EvidenceChoices,
  FlowView,
  FormsView,
  FunnelView,
  LeftView,
  OverTimeView,
  PageRow,
  PagesView,
  ReadingView,
  SampledEvent,
} from './reports'
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

export const pagesReply = exactly<PagesView>({
  days: listOf(text()),
  others: whole(),
  sessions: whole(),
  visitors: whole(),
  pages: listOf(
    exactly<PageRow>({
      ...figures,
      page: text(),
      days: listOf(whole()),
      before: exactly<NonNullable<PageRow['before']>>(figures).nullable(),
    }),
  ),
})

const flow = listOf(exactly<FlowView['before'][number]>({ name: text().nullable(), views: whole() }))
export const flowReply = exactly<FlowView>({ before: flow, after: flow, sources: flow })

const total = exactly<OverTimeView['total']>({ visitors: whole(), sessions: whole(), views: whole() })
export const overTimeReply = exactly<OverTimeView>({
  days: listOf(text()),
  series: listOf(
    exactly<OverTimeView['series'][number]>({
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
  before: total,
})

export const eventsReply = exactly<EventsView>({
  days: listOf(text()),
  kinds: listOf(
    exactly<EventsView['kinds'][number]>({
      kind: oneOf(...STEP_KINDS),
      name: text().nullable(),
      count: whole(),
      visitors: whole(),

      days: listOf(whole()),
      last: amount(),
      page: text(),
    }),
  ),
  refusals: listOf(exactly<EventsView['refusals'][number]>({ reason: text(), events: whole(), lastDay: text() })),
})

const quartiles = () => array(amount()).strict().length(3).nullable().defined()
export const formsReply = exactly<FormsView>({
  forms: listOf(
    exactly<FormsView['forms'][number]>({
      page: text(),
      form: text(),
      seen: whole(),
      visitors: whole(),
      begun: whole(),
      sent: whole(),
      fields: listOf(
        exactly<FormsView['forms'][number]['fields'][number]>({
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

const cell = mixed().test(
  'cell',
  '${path} is no cell with its clicks',
  (value) => Array.isArray(value) && value.length === 2 && Number(value[0]) < CELLS * CELLS && Number(value[1]) > 0,
)
export const clicksReply = exactly<ClicksView>({
  clicks: whole(),
  visitors: whole(),
  elements: listOf(
    exactly<ClicksView['elements'][number]>({
      path: text(),
      label: text().nullable(),
      clicks: whole(),
      visitors: whole(),
      cells: listOf(cell),
    }),
  ),
  others: whole(),
})

export const readingReply = exactly<ReadingView>({
  sessions: whole(),
  visitors: whole(),
  height: whole().nullable(),
  reach: listOf(whole()).length(BANDS),
  attention: listOf(amount()).length(BANDS),
})

export const funnelReply = exactly<FunnelView>({
  steps: listOf(exactly<FunnelView['steps'][number]>({ reached: whole(), time: quartiles() })),
  visitors: whole(),
  days: exactly<FunnelView['days']>({ began: listOf(whole()), ended: listOf(whole()) }),
  dayNames: listOf(text()),
})
export const leftReply = exactly<LeftView>({
  visitors: listOf(exactly<LeftView['visitors'][number]>({ visitor: text(), at: moment() })),
})
export const eventSampleReply = listOf(
  exactly<SampledEvent>({
    at: moment(),
    visitor: text(),
    page: text(),
    element: text().nullable(),
    label: text().nullable(),

    name: text().nullable(),
    amount: text().nullable(),
    properties: anything().nullable(),
  }),
)
const larger = () => {
  const share = () => exactly<Share>({ count: whole(), of: whole() })
  return { page: text(), marked: share(), others: share(), p: amount() }
}
export const candidatesReply = exactly<CandidatesView>({
  slowFields: listOf(
    exactly<CandidatesView['slowFields'][number]>({
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
  leftFields: listOf(exactly<CandidatesView['leftFields'][number]>({ ...larger(), form: text(), field: text() })),
  deadElements: listOf(exactly<CandidatesView['deadElements'][number]>({ ...larger(), path: text(), element: text() })),
  risingExits: listOf(exactly<CandidatesView['risingExits'][number]>(larger())),
  rules: listOf(
    exactly<CandidatesView['rules'][number]>({
      rule: oneOf(...CANDIDATE_RULES),
      tested: whole(),
      falseAlarms: exactly<FalseAlarms>({ rounds: whole(), alarms: whole() }),
    }),
  ),
})
export const statementReply = exactly<{ sql: string }>({ sql: text() })

export const savedFunnelReply = exactly<SavedFunnel>({
  id: id(),
  name: text(),
  plan: anything(),
  person: text().nullable(),
  createdAt: moment(),
})
export const funnelsReply = listOf(savedFunnelReply)

export const choicesReply = exactly<EvidenceChoices>({
  dimensions: listOf(
    exactly<EvidenceChoices['dimensions'][number]>({ dimension: oneOf(...DIMENSIONS), values: listOf(text()) }),
  ),
  attributes: listOf(text()),
  metrics: listOf(
    exactly<EvidenceChoices['metrics'][number]>({
      id: text(),
      name: text(),
      kind: oneOf('conversion', 'mean', 'ratio'),
      source: anything(),
      isMoney: yesOrNo(),
    }),
  ),
  variants: listOf(
    exactly<EvidenceChoices['variants'][number]>({
      experimentId: id(),
      experiment: text(),
      position: whole(),
      variant: text(),
    }),
  ),
  pages: listOf(text()),
  currency: text(),
})

export const addressesReply = exactly<AddressesView>({
  host: text(),
  addresses: listOf(exactly<AddressesView['addresses'][number]>({ address: text(), visitors: amount() })),
})
