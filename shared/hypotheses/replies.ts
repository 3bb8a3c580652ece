import { PURPOSES } from '../../core/sheet/content'
import type { MetricSource } from '../../core/measurement/metric'
import { STRENGTHS } from '../../core/hypotheses/pastLifts'
import { FINDING_SOURCES } from '../findings/finding'
import { STAGES } from './hypothesis'
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
import { number, type InferType } from '../yup'

const orNone = () => number().strict().nullable().defined()
const stage = () => oneOf(...STAGES)
const person = () => exactly({ id: id(), name: text() })

const ideaFigures = exactly({
  from: text(),
  to: text(),
  visitors: whole(),
  converters: whole(),
  /** Of a visitor's value. */
  mean: amount(),
  deviation: amount(),
  /** Money that a unit brings, where the events say so. */
  unitValue: orNone(),
  /** Why they could not be computed, such as an audience that asks for a metric that is gone. */
  problem: text().nullable(),
})
/** What visitors did in some days, both included. */
export type IdeaFigures = InferType<typeof ideaFigures>

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
  figures: ideaFigures,
  /** By the lifts as they are drawn toward the past; null while they are missing. */
  worth: worth(),
  /** The same by the lifts as typed. */
  typedWorth: worth(),
  /** How much of what was typed is left. */
  weight: orNone(),
  drawn: exactly({ low: amount(), likely: amount(), high: amount() }).nullable().defined(),
  cost: exactly({ visitors: orNone(), weeks: orNone(), visibleLift: orNone() }).nullable().defined(),
  /** Why it cannot be tested here, in a sentence; null where it can. */
  untestable: text().nullable(),
})
/** What follows from the figures and what is expected. */
export type Assessment = InferType<typeof assessmentReply>

const linkedExperiment = exactly({
  id: id(),
  name: text(),
  purpose: oneOf(...PURPOSES),
  state: oneOf('draft', 'running', 'paused', 'ended'),
  /** What the verdict says; null without one. */
  verdict: text().nullable(),
  lift: orNone(),
  interval: interval().nullable(),
  smallestLift: amount(),
  /** Name of the variant that was kept. */
  kept: text().nullable(),
})
export type LinkedExperiment = InferType<typeof linkedExperiment>

const latest = linkedExperiment.nullable().defined()

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
  /** null while its figures are not computed yet, or it does not say a metric. */
  assessment: assessmentReply.nullable().defined(),
  /** The latest experiment that was made from it. */
  experiment: latest,
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
const hypothesisSummary = exactly({
  ...common,
  findings: whole(),
  comments: whole(),
  place: id(),
  /** Place by what the team ranks by, without what was moved by hand. */
  computed: id(),
  /** Place by worth, whatever the team ranks by. */
  byWorth: id(),
})
export type HypothesisSummary = InferType<typeof hypothesisSummary>

const ideaMetric = exactly({
  id: text(),
  name: text(),
  kind: oneOf('conversion', 'mean', 'ratio'),
  source: anything<MetricSource>(),
  isMoney: yesOrNo(),
})
export type IdeaMetric = InferType<typeof ideaMetric>

export const hypothesesReply = exactly({
  hypotheses: listOf(hypothesisSummary),
  metrics: listOf(ideaMetric),
  terms: termsReply,
  past: exactly({ count: whole(), mean: amount(), deviation: amount() }),
  currency: text(),
  people: listOf(person()),
  /** Figures that are of another day, or missing. */
  stale: whole(),
})
export type HypothesesView = InferType<typeof hypothesesReply>

const comment = exactly({
  id: id(),
  person: text().nullable(),
  isOwn: yesOrNo(),
  words: text(),
  mentions: listOf(text()),
  createdAt: moment(),
})
export type CommentView = InferType<typeof comment>

export const commentsReply = listOf(comment)
export const hypothesisReply = exactly({
  ...common,

  change: text(),
  reason: text(),
  statement: text().nullable(),
  /** Put together from the parts. */
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
  experiments: listOf(linkedExperiment),
  comments: commentsReply,
  attachments: listOf(attachmentReply),
})
export type HypothesisView = InferType<typeof hypothesisReply>

export const similarReply = exactly({
  hypotheses: listOf(
    exactly({
      id: id(),
      title: text(),
      stage: stage(),
      stageReason: text().nullable(),
      experiment: latest,
    }),
  ),
  experiments: listOf(linkedExperiment),
})
/** Something that is like what one writes. */
export type Similar = InferType<typeof similarReply>

const shippedWorth = exactly({
  experiment: id(),
  /** In a month, by its own measurement. */
  expected: amount(),
  low: amount(),
  high: amount(),
  currency: text(),
  /** How much of what was promised a closed holdout has shown to be there, from 0 to 1. */
  delivered: exactly({ share: amount(), holdout: id(), name: text() }).nullable(),
})
/** What something that is served is worth. */
export type ShippedWorth = InferType<typeof shippedWorth>

export const threadReply = exactly({
  findings: listOf(exactly({ id: id(), title: text() })),
  hypotheses: listOf(exactly({ id: id(), title: text(), stage: stage() })),
  experiments: listOf(linkedExperiment),
  rollouts: listOf(
    exactly({
      id: id(),
      name: text(),
      variant: text(),
      isOn: yesOrNo(),
      share: whole(),
      experiment: id(),
    }),
  ),
  /** Of what is served, where it is known. */
  worths: listOf(shippedWorth),
})
/** What leads to something and what follows from it. */
export type Thread = InferType<typeof threadReply>

export const importReply = exactly({
  imported: whole(),
  refused: listOf(exactly({ row: whole(), message: text() })),
  /** Rows that say what another row says, or a hypothesis that is there already. */
  repeated: listOf(exactly({ row: whole(), of: whole().nullable() })),
})
/** What was imported, and which rows were not, by their place in what was sent. Of a trial: what would be. */
export type ImportReport = InferType<typeof importReply>

export const refreshedReply = exactly({ done: whole(), left: whole() })
export type RefreshedFigures = InferType<typeof refreshedReply>
