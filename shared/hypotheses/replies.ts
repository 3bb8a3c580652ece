import { STRENGTHS, type Past } from '../../core/hypotheses/pastLifts'
import type { LiftRange } from '../../core/hypotheses/pert'
import type { Expected, Worth } from '../../core/hypotheses/worth'
import type { LearningCost } from '../../core/hypotheses/learningCost'
import { FINDING_SOURCES } from '../findings/finding'
import {
  STAGES,
  type Assessment,
  type CommentView,
  type HypothesesView,
  type HypothesisSummary,
  type HypothesisView,
  type IdeaFigures,
  type IdeaMetric,
  type LinkedExperiment,
  type RankingTerms,
  type RefreshedFigures,
  type Similar,
  type Thread,
} from './hypothesis'
import type { ImportReport } from './hypothesisTable'
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
const person = () => exactly<{ id: number; name: string }>({ id: id(), name: text() })

const figures = () =>
  exactly<IdeaFigures>({
    from: text(),
    to: text(),
    visitors: whole(),
    converters: whole(),
    mean: amount(),
    deviation: amount(),

    unitValue: orNone(),
    problem: text().nullable(),
  })
const expected = () => exactly<Expected>({ expected: amount(), low: amount(), high: amount() })
const worth = () =>
  exactly<Worth>({
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
export const assessmentReply = exactly<Assessment>({
  figures: figures(),
  worth: worth(),
  typedWorth: worth(),
  weight: orNone(),
  drawn: exactly<LiftRange>({ low: amount(), likely: amount(), high: amount() }).nullable().defined(),
  cost: exactly<LearningCost>({ visitors: orNone(), weeks: orNone(), visibleLift: orNone() }).nullable().defined(),
  untestable: text().nullable(),
})
const experiment = () =>
  exactly<LinkedExperiment>({
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
  scores: anything(),
  score: orNone(),

  handPlace: orNone(),
  handReason: text().nullable(),

  assessment: assessmentReply.nullable().defined(),
  experiment: latest(),
}
export const termsReply = exactly<RankingTerms>({
  dayCost: amount(),
  paybackMonths: amount(),
  longestWeeks: whole(),
  rankBy: oneOf('worth', 'score'),
  criteria: listOf(exactly<RankingTerms['criteria'][number]>({ id: text(), name: text(), weight: amount() })),
  unitValues: anything(),
  limits: exactly<RankingTerms['limits']>({ 'worth testing': orNone(), 'in test': orNone() }),
})
export const hypothesesReply = exactly<HypothesesView>({
  hypotheses: listOf(
    exactly<HypothesisSummary>({
      ...common,
      findings: whole(),
      comments: whole(),
      place: id(),
      computed: id(),
      byWorth: id(),
    }),
  ),
  metrics: listOf(
    exactly<IdeaMetric>({
      id: text(),
      name: text(),
      kind: text(),
      source: anything(),
      isMoney: yesOrNo(),
    }),
  ),
  terms: termsReply,
  past: exactly<Past>({ count: whole(), mean: amount(), deviation: amount() }),

  currency: text(),
  people: listOf(person()),
  stale: whole(),
})
export const commentsReply = listOf(
  exactly<CommentView>({
    id: id(),
    person: text().nullable(),
    isOwn: yesOrNo(),
    words: text(),
    mentions: listOf(text()),
    createdAt: moment(),
  }),
)
export const hypothesisReply = exactly<HypothesisView>({
  ...common,

  change: text(),
  reason: text(),
  statement: text().nullable(),
  assembled: text(),
  stageReason: text().nullable(),
  findings: listOf(
    exactly<HypothesisView['findings'][number]>({
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
export const similarReply = exactly<Similar>({
  hypotheses: listOf(
    exactly<Similar['hypotheses'][number]>({
      id: id(),
      title: text(),
      stage: stage(),
      stageReason: text().nullable(),
      experiment: latest(),
    }),
  ),
  experiments: listOf(experiment()),
})
export const threadReply = exactly<Thread>({
  findings: listOf(exactly<Thread['findings'][number]>({ id: id(), title: text() })),
  hypotheses: listOf(exactly<Thread['hypotheses'][number]>({ id: id(), title: text(), stage: stage() })),
  experiments: listOf(experiment()),
  rollouts: listOf(
    exactly<Thread['rollouts'][number]>({
      id: id(),
      name: text(),
      variant: text(),
      isOn: yesOrNo(),
      share: whole(),
    }),
  ),
})
export const importReply = exactly<ImportReport>({
  imported: whole(),
  refused: listOf(exactly<ImportReport['refused'][number]>({ row: whole(), message: text() })),
})
export const refreshedReply = exactly<RefreshedFigures>({ done: whole(), left: whole() })
