import type { MetricSource } from '../../core/measurement/metric'
import { STRENGTHS } from '../../core/hypotheses/pastLifts'
import { FINDING_SOURCES } from '../findings/finding'
import { STAGES, type IdeaMetric } from './hypothesis'
import { attachmentReply } from '../findings/replies'
import {
  amount,
  anything,
  exactly,
  id,
  interval,
  listOf,
  moment,
  oneOf,
  text,
  whole,
  yesOrNo,
} from '../api/replyPieces'
import { number } from '../yup'

const orNone = () => number().strict().nullable().defined()
const stage = () => oneOf(...STAGES)
const person = () => exactly({ id: id(), name: text() })

const figures = () =>
  exactly({
    from: text(),
    to: text(),
    visitors: whole(),
    converters: whole(),
    mean: amount(),
    deviation: amount(),

    unitValue: orNone(),
    problem: text().nullable(),
  })
const expected = () => exactly({ expected: amount(), low: amount(), high: amount() })
const worth = () =>
  exactly({
    visitorsAWeek: amount(),
    unitsAMonth: amount(),
    gain: expected(),
    money: expected().nullable().defined(),

    chance: orNone(),
    gainADay: orNone(),
    moneyADay: orNone(),
  })
    .nullable()
    .defined()
export const assessmentReply = exactly({
  figures: figures(),
  worth: worth(),
  typedWorth: worth(),
  weight: orNone(),
  drawn: exactly({ low: amount(), likely: amount(), high: amount() }).nullable().defined(),
  cost: exactly({ visitors: orNone(), weeks: orNone(), visibleLift: orNone() }).nullable().defined(),
  untestable: text().nullable(),
})
const experiment = () =>
  exactly({
    id: id(),
    name: text(),
    state: oneOf('draft', 'running', 'paused', 'ended'),
    verdict: text().nullable(),

    lift: orNone(),
    interval: interval().nullable(),
    smallestLift: amount(),
    kept: text().nullable(),
  })
const latest = () => experiment().nullable().defined()

const common = {
  id: id(),
  title: text(),
  pages: text().nullable(),
  audience: text().nullable(),
  metric: text().nullable(),

  direction: oneOf('up', 'down'),
  low: orNone(),
  likely: orNone(),
  high: orNone(),
  effortDays: orNone(),

  strength: oneOf(...STRENGTHS),
  tags: listOf(text()),
  stage: stage(),
  owner: person().nullable().defined(),

  person: text().nullable(),
  createdAt: moment(),
  version: id(),
  scores: anything<Record<string, number>>(),
  score: orNone(),

  handPlace: orNone(),
  handReason: text().nullable(),

  assessment: assessmentReply.nullable().defined(),
  experiment: latest(),
}
export const termsReply = exactly({
  dayCost: amount(),
  paybackMonths: amount(),
  longestWeeks: whole(),
  rankBy: oneOf('worth', 'score'),
  criteria: listOf(exactly({ id: text(), name: text(), weight: amount() })),
  unitValues: anything<Record<string, number>>(),
  limits: exactly({ 'worth testing': orNone(), 'in test': orNone() }),
})
export const hypothesesReply = exactly({
  hypotheses: listOf(
    exactly({
      ...common,
      findings: whole(),
      comments: whole(),
      place: id(),
      computed: id(),
      byWorth: id(),
    }),
  ),
  metrics: listOf(
    exactly({
      id: text(),
      name: text(),
      kind: oneOf<IdeaMetric['kind']>('conversion', 'mean', 'ratio'),
      source: anything<MetricSource>(),
      isMoney: yesOrNo(),
    }),
  ),
  terms: termsReply,
  past: exactly({ count: whole(), mean: amount(), deviation: amount() }),

  currency: text(),
  people: listOf(person()),
  stale: whole(),
})
export const commentsReply = listOf(
  exactly({
    id: id(),
    person: text().nullable(),
    isOwn: yesOrNo(),
    words: text(),
    mentions: listOf(text()),
    createdAt: moment(),
  }),
)
export const hypothesisReply = exactly({
  ...common,

  change: text(),
  reason: text(),
  statement: text().nullable(),
  assembled: text(),
  stageReason: text().nullable(),
  findings: listOf(
    exactly({
      id: id(),
      title: text(),
      source: oneOf(...FINDING_SOURCES),
      page: text().nullable(),
    }),
  ),

  experiments: listOf(experiment()),
  comments: commentsReply,
  attachments: listOf(attachmentReply),
})
export const similarReply = exactly({
  hypotheses: listOf(
    exactly({
      id: id(),
      title: text(),
      stage: stage(),
      stageReason: text().nullable(),
      experiment: latest(),
    }),
  ),
  experiments: listOf(experiment()),
})
export const threadReply = exactly({
  findings: listOf(exactly({ id: id(), title: text() })),
  hypotheses: listOf(exactly({ id: id(), title: text(), stage: stage() })),
  experiments: listOf(experiment()),
  rollouts: listOf(
    exactly({
      id: id(),
      name: text(),
      variant: text(),
      isOn: yesOrNo(),
      share: whole(),
    }),
  ),
})
export const importReply = exactly({
  imported: whole(),
  refused: listOf(exactly({ row: whole(), message: text() })),
})
export const refreshedReply = exactly({ done: whole(), left: whole() })
