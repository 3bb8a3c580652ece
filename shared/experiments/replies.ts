import type { Edit } from '../../core/edits/content'
import { lazy, mixed, type InferType } from '../yup'
import {
  amount,
  anything,
  deciding,
  exactly,
  id,
  interval,
  listOf,
  moment,
  oneOf,
  page,
  text,
  whole,
  yesOrNo,
} from '../api/replyPieces'
import { CROWD_KINDS } from '../../core/traffic/crowd'
import { SEGMENT_DIMENSIONS } from '../../core/traffic/segment'
import { SPLIT_CAUSES } from '../../core/traffic/splitCauses'
import type { MetricSource } from '../../core/measurement/metric'
import type { SheetTerms } from '../../core/sheet/terms'
import type { Group } from '../../core/targeting/condition'
import type { PreflightFinding } from '../../core/preflight/preflight'
import {
  PURPOSES,
  ADJUSTMENTS,
  type Adjustment,
  type SheetPageRule,
  type SheetPlan,
  SPLITS,
  type Split,
} from '../../core/sheet/content'
import { DECISION_RULES, SELF_PAUSES, type SelfPause, type Verdict } from '../../core/verdict/verdict'
import { metricSourceSchema } from '../metrics/metricSchema'
import type { ExperimentState } from './experiment'
import { editSchema } from '../edits/edit'
import { pageRuleFields } from '../collection/replies'

const state = oneOf<ExperimentState>('draft', 'running', 'paused', 'ended')
const direction = oneOf('up', 'down')

export const verdictReply = exactly({
  kind: oneOf<Verdict['kind']>('distrust', 'harm', 'early', 'ship', 'no-difference', 'ship-low-risk', 'open', 'go-on'),
  variant: text().nullable(),
  title: text(),
  reasons: listOf(text()),
})

export const metricReply = exactly({
  id: text(),
  /** Which definition of it is used. */
  versionId: id(),
  name: text(),
  kind: oneOf('conversion', 'mean', 'ratio'),
  source: deciding<MetricSource>(metricSourceSchema),
  denominator: deciding<MetricSource | null>(
    lazy((source: unknown) => (source === null ? mixed().nullable() : metricSourceSchema)),
  ),
  cap: amount().nullable(),
  windowDays: whole().nullable(),
  direction,
  role: oneOf('primary', 'secondary', 'guardrail'),
  limit: amount().nullable(),
})
export type MetricView = InferType<typeof metricReply>

const finding = exactly({
  section: oneOf<PreflightFinding['section']>('why', 'what', 'who', 'measured', 'decided'),
  text: text(),
  isStop: yesOrNo(),
})

const ramp = exactly({
  /** Which of the steps, from 0 on, and when the next one is due. */
  step: whole(),
  until: moment(),
  /** The share after the last step, of 10,000. */
  final: whole(),
  /** Why the next step was not taken; null where nothing speaks against it. */
  problem: text().nullable(),
})
/** Where the ramp of a running experiment stands; null where there is none, or where it is done. */
export type RampView = InferType<typeof ramp>

/** In moments. */
const schedule = exactly({
  start: moment().nullable(),
  end: moment().nullable(),
  /** Why it did not start when it was to; null where nothing went wrong. */
  problem: text().nullable(),
})

const levelEffects = () => listOf(exactly({ name: text(), adds: amount() }))
const expectation = exactly({
  base: amount(),
  returned: amount(),
  value: amount(),
  visits: amount(),
  spent: amount(),
  devices: levelEffects(),
  sources: levelEffects(),
  explained: amount(),
  visitors: whole(),
})

export const sheetReply = exactly({
  id: id(),
  siteId: id(),
  /** Currency of amounts on the site, such as EUR. */
  currency: text(),
  /** Reporting time zone of the site. */
  timeZone: text(),
  /** Whether variants may bring scripts of their own, by the site's settings. */
  allowsScripts: yesOrNo(),
  name: text(),
  purpose: oneOf(...PURPOSES),
  hypothesis: text(),
  state,
  /** Counts up with every change. */
  version: id(),
  audience: anything<Group>().nullable(),
  terms: anything<SheetTerms>(),
  ramp: ramp.nullable().defined(),
  schedule: schedule,
  pageRules: listOf(
    deciding<SheetPageRule>(
      exactly({
        id: text(),
        ...pageRuleFields,
      }),
    ),
  ),
  share: whole(),
  factors: listOf(
    exactly({
      id: text(),
      name: text(),
      levels: listOf(exactly({ id: text(), name: text(), edits: listOf(deciding<Edit>(editSchema)) })),
    }),
  ),
  combinationsOff: listOf(exactly({ id: text() })),
  variants: listOf(
    exactly({
      id: text(),
      name: text(),
      weight: whole(),
      edits: listOf(deciding<Edit>(editSchema)),
      levels: listOf(text()).nullable().optional(),
      audience: anything<Group>().nullable().optional(),
    }),
  ),
  metrics: listOf(metricReply),
  plan: exactly({
    smallestLift: amount(),
    alpha: amount(),
    rule: oneOf<SheetPlan['rule']>(...DECISION_RULES),
    lossLimit: amount(),
    guardrailRule: oneOf<NonNullable<SheetPlan['guardrailRule']>>('unharmed', 'safe').optional(),
    leastChance: amount().nullable().optional(),
    pausesFor: oneOf<SelfPause>(...SELF_PAUSES).optional(),
    leastWeeks: whole(),
    longestWeeks: whole(),
    plannedVisitors: whole().nullable(),
    baseline: amount().nullable(),
    mean: amount().nullable().optional(),
    deviation: amount().nullable().optional(),
    adjustedBy: oneOf<Adjustment>(...ADJUSTMENTS).optional(),
    split: oneOf<Split>(...SPLITS).optional(),
    leastShare: amount().optional(),
    batchVisitors: whole().nullable().optional(),
  }),
  /** Of a split that moves, the weights by which new visitors were drawn one after another; empty for others. */
  periods: listOf(
    exactly({
      since: moment(),
      /** Of new visitors, of each variant, the control first. */
      shares: listOf(amount()),
      /** To be the best, by what was known then. */
      chances: listOf(amount()).nullable(),
    }),
  ),
  /** What the primary metric is adjusted by, as it was fitted at the start. */
  expectation: expectation.nullable(),
  createdAt: moment(),
  startedAt: moment().nullable(),
  endedAt: moment().nullable(),
  /** Of an ended experiment, where somebody said. */
  decision: exactly({ variant: text().nullable(), reason: text(), person: text().nullable() }).nullable(),
  /** Why its split was not as set, once somebody has said so. */
  splitSettlement: exactly({
    cause: oneOf(...SPLIT_CAUSES, 'other'),
    words: text(),
    person: text().nullable(),
    at: moment(),
    day: text(),
  }).nullable(),
  /** What keeps it from starting; empty for all but drafts. */
  preflight: listOf(finding),
})
/** Everything a sheet shows of an experiment, but for its results. */
export type ExperimentSheet = InferType<typeof sheetReply>

export const preflightReply = exactly({
  /** Of the sheet that was looked at. */
  version: id(),
  forecast: exactly({
    days: whole(),
    visitors: whole(),
    firstSeen: listOf(amount()).optional(),
    sampled: whole(),
    mean: amount().nullable(),
    deviation: amount().nullable(),
    expectation: expectation.nullable().optional(),
  }),
  /** The most visited pages of the sheet, which the edits were tried on. */
  pages: listOf(text()),
  findings: listOf(finding),
})
/** What can only be known by looking: at the traffic of the last four weeks, at the pages, and at what runs beside. */
export type PreflightReport = InferType<typeof preflightReply>

export const experimentSummary = exactly({
  id: id(),
  name: text(),
  /** Of a personalization, the experiment that it serves something of. */
  servedFrom: id().nullable(),
  state,
  pages: text(),
  startedAt: moment().nullable(),
  endedAt: moment().nullable(),
  visitors: whole(),
  verdict: verdictReply.nullable(),
  smallestLift: amount(),
  /** The longest run, in weeks. */
  longestWeeks: whole(),
  best: exactly({
    variant: text(),
    position: whole(),
    lift: amount().nullable(),
    interval: interval().nullable(),
  }).nullable(),
})
/** A row of the list of experiments. */
export type ExperimentSummary = InferType<typeof experimentSummary>

export const experimentsReply = page(experimentSummary)

const change = exactly({
  id: id(),
  at: moment(),
  person: text().nullable(),
  action: text(),
  /** What a change of the sheet did, with old and new. */
  words: text().nullable(),
  /** Whether the sheet can be made again what it was after it. */
  mayRestore: yesOrNo(),
  before: anything<Record<string, unknown>>().nullable(),
  after: anything<Record<string, unknown>>().nullable(),
})
export type ChangeView = InferType<typeof change>

export const changesReply = page(change)

/** Which visitors of an experiment a crowd is. */
export const crowdPlace = exactly({
  day: text(),
  kind: oneOf(...CROWD_KINDS),
  value: text(),
})

const exclusion = exactly({
  id: id(),
  kind: oneOf('visitor', 'team', 'span', 'crowd', 'segment'),
  visitor: text().nullable(),
  crowd: crowdPlace.nullable(),
  segment: exactly({ dimension: oneOf(...SEGMENT_DIMENSIONS), value: text() }).nullable(),
  from: moment().nullable(),
  until: moment().nullable(),
  reason: text(),
  person: text().nullable(),
  at: moment(),
})
/** Who is left out of an experiment's numbers, by whom, and why. */
export type ExclusionView = InferType<typeof exclusion>

export const exclusionsReply = page(exclusion)

export const addedExclusionReply = exactly({ id: id() })

export const previewReply = exactly({
  id: id(),
  variant: text(),
  path: text(),
  link: text(),
  person: text().nullable(),
  createdAt: moment(),
  expiresAt: moment(),
})
/** A link that shows a variant to whoever has it. */
export type PreviewView = InferType<typeof previewReply>

export const pointingReply = exactly({
  token: text(),
  /** Address to open in the frame, with the token in its fragment. */
  address: text(),
  /** Path on Vetch of a copy of the page, for pages without the script line. */
  copy: text(),
  expiresAt: moment(),
})
export type PointingSession = InferType<typeof pointingReply>

/** Where a settled split leads: to the copy that was begun in its place. */
export const settledReply = exactly({ copy: id().nullable() })
