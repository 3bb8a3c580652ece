import { lazy, mixed } from '../yup'
import type { VariantComparison } from '../../core/analysis/analysis'
import type { LayoutProblem, LayoutProblemKind } from '../../core/layout/layoutProblems'
import type { PreflightFinding } from '../../core/preflight/preflight'
import type {
  Decision,
  SheetFactor,
  SheetLevel,
  SheetPageRule,
  SheetPlan,
  SheetVariant,
} from '../../core/sheet/content'
import type { Forecast } from '../../core/sheet/planReading'
import type { AllocationCheck } from '../../core/statistics/allocation'
import type { DifferenceEstimate, LiftEstimate, SequentialReading } from '../../core/statistics/compareArms'
import type { EffectName, FactorialEffect, FactorialReading, LevelContrast } from '../../core/statistics/factorial'
import type { Heterogeneity } from '../../core/statistics/heterogeneity'
import type { PosteriorComparison } from '../../core/statistics/posterior'
import type { SoundnessFinding } from '../../core/statistics/soundness'
import type { VarianceReduction } from '../../core/statistics/varianceReduction'
import type { Shortfall } from '../../core/statistics/shortfall'
import type { ReachedVerdict } from '../../core/verdict/reachedVerdict'
import type { Verdict } from '../../core/verdict/verdict'
import { metricSourceSchema } from '../metrics/metricSchema'
import type { RampView, Schedule } from './schedule'
import type {
  ArmView,
  DayView,
  ExperimentResults,
  LookView,
  MetricResults,
  SegmentReadingView,
  SegmentView,
} from './results'
import type { ChangeView } from './change'
import type { ExclusionView } from './exclusion'
import type { ExperimentSheet, ExperimentState, MetricView, PreflightReport } from './experiment'
import type { ExperimentSummary } from './experimentList'
import type { PointingSession } from './pointing'
import type { PreviewView } from './previewLink'
import type { EventsStatement, Explanation } from './explanation'
import type { VariantPicture, VariantPictures } from '../pictures/variantPicture'
import { editSchema } from '../edits/edit'
import { pageRuleFields } from '../collection/replies'
import {
  amount,
  anything,
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

const state = oneOf<ExperimentState>('draft', 'running', 'paused', 'ended')
const direction = oneOf<MetricView['direction']>('up', 'down')

const verdict = exactly<Verdict>({
  kind: oneOf<Verdict['kind']>('distrust', 'harm', 'early', 'ship', 'no-difference', 'ship-low-risk', 'open', 'go-on'),
  variant: text().nullable(),
  title: text(),
  reasons: listOf(text()),
})

const metric = exactly<MetricView>({
  id: text(),
  versionId: id(),
  name: text(),
  kind: oneOf<MetricView['kind']>('conversion', 'mean', 'ratio'),
  source: metricSourceSchema,
  denominator: lazy((source: unknown) => (source === null ? mixed().nullable() : metricSourceSchema)),
  cap: amount().nullable(),
  windowDays: whole().nullable(),
  direction,
  role: oneOf<MetricView['role']>('primary', 'secondary', 'guardrail'),
  limit: amount().nullable(),
})

const finding = exactly<PreflightFinding>({
  section: oneOf<PreflightFinding['section']>('why', 'what', 'who', 'measured', 'decided'),
  text: text(),
  isStop: yesOrNo(),
})

const effect = {
  factors: listOf(text()),
  levels: listOf(text()),
}
const factorial = exactly<FactorialReading>({
  effects: listOf(
    exactly<FactorialEffect>({
      ...effect,
      estimate: amount(),
      standardError: amount(),
      interval: interval(),
      pValue: amount(),
      aliases: listOf(exactly<EffectName>(effect)).optional(),
    }),
  ),
  contrasts: listOf(
    exactly<LevelContrast>({
      factor: text(),
      level: text(),
      difference: amount(),
      interval: interval(),
      lift: amount().nullable(),
      liftInterval: interval().nullable(),
      pValue: amount(),
      adjustedPValue: amount(),
    }),
  ),
  bestCell: exactly<NonNullable<FactorialReading['bestCell']>>({
    levels: anything(),
    visitors: whole(),
    mean: amount(),
    fitted: amount(),
    interval: interval(),
  }).nullable(),
  why: text().optional(),
})

export const sheetReply = exactly<ExperimentSheet>({
  id: id(),
  siteId: id(),
  currency: text(),
  timeZone: text(),
  allowsScripts: yesOrNo(),
  name: text(),
  hypothesis: text(),
  state,
  version: id(),
  audience: anything().nullable(),
  terms: anything(),
  ramp: exactly<RampView>({ step: whole(), until: moment(), final: whole(), problem: text().nullable() })
    .nullable()
    .defined(),
  schedule: exactly<Schedule>({ start: moment().nullable(), end: moment().nullable(), problem: text().nullable() }),
  pageRules: listOf(
    exactly<SheetPageRule>({
      id: text(),
      ...pageRuleFields,
    }),
  ),
  share: whole(),
  factors: listOf(
    exactly<SheetFactor>({
      id: text(),
      name: text(),
      levels: listOf(exactly<SheetLevel>({ id: text(), name: text(), edits: listOf(editSchema) })),
    }),
  ),
  combinationsOff: listOf(exactly<{ id: string }>({ id: text() })),
  variants: listOf(
    exactly<SheetVariant>({
      id: text(),
      name: text(),
      weight: whole(),
      edits: listOf(editSchema),
      levels: listOf(text()).nullable().optional(),
    }),
  ),
  metrics: listOf(metric),
  plan: exactly<SheetPlan>({
    smallestLift: amount(),
    alpha: amount(),
    rule: oneOf<SheetPlan['rule']>('sequential', 'fixed', 'low-risk'),
    lossLimit: amount(),
    guardrailRule: oneOf<NonNullable<SheetPlan['guardrailRule']>>('unharmed', 'safe').optional(),
    leastWeeks: whole(),
    longestWeeks: whole(),
    plannedVisitors: whole().nullable(),
    baseline: amount().nullable(),
    mean: amount().nullable().optional(),
    deviation: amount().nullable().optional(),
  }),
  createdAt: moment(),
  startedAt: moment().nullable(),
  endedAt: moment().nullable(),
  decision: exactly<Decision>({ variant: text().nullable(), reason: text(), person: text().nullable() }).nullable(),
  preflight: listOf(finding),
})

export const preflightReply = exactly<PreflightReport>({
  version: id(),
  forecast: exactly<Forecast>({
    days: whole(),
    visitors: whole(),
    firstSeen: listOf(amount()).optional(),
    sampled: whole(),
    mean: amount().nullable(),
    deviation: amount().nullable(),
  }),
  pages: listOf(text()),
  findings: listOf(finding),
})

export const experimentSummary = exactly<ExperimentSummary>({
  id: id(),
  name: text(),
  state,
  pages: text(),
  startedAt: moment().nullable(),
  endedAt: moment().nullable(),
  visitors: whole(),
  verdict: verdict.nullable(),
  smallestLift: amount(),
  longestWeeks: whole(),
  best: exactly<NonNullable<ExperimentSummary['best']>>({
    variant: text(),
    position: whole(),
    lift: amount().nullable(),
    interval: interval().nullable(),
  }).nullable(),
})
export const experimentsReply = page(experimentSummary)

const why = text().optional()
const lift = { estimate: amount().nullable(), interval: interval().nullable(), why }
const liftEstimate = exactly<LiftEstimate>(lift)
const difference = exactly<DifferenceEstimate>({ ...lift, standardError: amount().nullable() })
const pValue = amount().nullable()

const comparison = exactly<VariantComparison>({
  variant: text(),
  difference,
  lift: liftEstimate,
  pValue,
  adjustedPValue: pValue,
  degreesOfFreedom: amount().nullable(),
  sequential: exactly<SequentialReading>({ interval: interval().nullable(), lift: liftEstimate, pValue, why }),
  posterior: exactly<PosteriorComparison>({
    probabilityBetter: amount().nullable(),
    expectedLoss: amount().nullable(),
    expectedLossOfControl: amount().nullable(),
    liftInterval: interval().nullable(),
    why,
  }),
  shortfall: exactly<Shortfall>({
    arm: oneOf<Shortfall['arm']>('control', 'variant'),
    what: oneOf<Shortfall['what']>('conversions', 'visitors without a conversion', 'visitors with a value', 'visitors'),
    has: whole(),
    needs: whole(),
  }).nullable(),
  varianceReduction: exactly<VarianceReduction>({
    theta: amount(),
    shareRemoved: amount().nullable(),
    difference,
    pValue,
    why,
  }).optional(),
  // Asked for by themselves.
  segments: mixed().oneOf([undefined]),
})

const heterogeneity = exactly<Heterogeneity>({ q: amount().nullable(), degreesOfFreedom: whole(), pValue, why })
const arm = exactly<ArmView>({
  visitors: whole(),
  sum: amount(),
  denominator: amount(),
  mean: amount().nullable(),
  variance: amount().nullable(),
})

export const daysReply = listOf(
  exactly<DayView>({
    day: text(),
    visitors: listOf(whole()),
    metrics: listOf(
      exactly<DayView['metrics'][number]>({ metricVersionId: id(), arms: listOf(arm), lifts: listOf(liftEstimate) }),
    ),
  }),
)

export const segmentsReply = listOf(
  exactly<SegmentView>({
    dimension: text(),
    metrics: listOf(
      exactly<SegmentView['metrics'][number]>({
        metricVersionId: id(),
        comparisons: listOf(
          exactly<SegmentView['metrics'][number]['comparisons'][number]>({
            readings: listOf(
              exactly<SegmentReadingView>({
                value: text().nullable(),
                visitors: whole(),
                controlMean: amount().nullable(),
                mean: amount().nullable(),
                lift: liftEstimate,
                pValue,
                adjustedPValue: pValue,
              }),
            ),
            heterogeneity,
          }),
        ),
      }),
    ),
  }),
)

export const resultsReply = exactly<ExperimentResults>({
  arms: listOf(exactly<ExperimentResults['arms'][number]>({ name: text(), visitors: whole() })),
  visitors: whole(),
  crossed: whole(),
  daysRun: amount(),
  allocation: exactly<AllocationCheck>({
    observed: listOf(amount()),
    expected: listOf(amount()),
    chiSquare: amount(),
    degreesOfFreedom: whole(),
    pValue: amount(),
    sequentialPValue: amount(),
    alarm: yesOrNo(),
  }).nullable(),
  metrics: listOf(
    exactly<MetricResults>({
      metric,
      arms: listOf(arm),
      comparisons: listOf(comparison),
      probabilityBest: listOf(amount().nullable()),
      withPast: whole(),
      factorial: factorial.nullable(),
    }),
  ),
  soundness: listOf(
    exactly<SoundnessFinding>({
      kind: oneOf<SoundnessFinding['kind']>(
        'allocation',
        'crossed',
        'silent-days',
        'drift',
        'missing-events',
        'left-out',
        'unconverted',
        'persons',
        'set-aside',
        'computing',
        'refused',
      ),
      isBreaking: yesOrNo(),
      text: text(),
    }),
  ),
  verdict: verdict.nullable(),
  reached: exactly<ReachedVerdict>({
    verdict,
    at: moment(),
    daysRun: amount(),
    visitors: whole(),
    rule: oneOf<ReachedVerdict['rule']>('sequential', 'fixed', 'low-risk'),
    variants: listOf(
      exactly<ReachedVerdict['variants'][number]>({
        name: text(),
        visitors: whole(),
        lift: amount().nullable(),
        interval: interval().nullable(),
      }),
    ),
  }).nullable(),
  since: verdict.nullable(),
  foldedAt: moment().nullable(),
})

export const explanationReply = exactly<Explanation>({
  title: text(),
  value: text(),
  definition: text(),
  inputs: listOf(exactly<Explanation['inputs'][number]>({ name: text(), value: text() })),
  formula: text(),
  source: text().nullable(),
  sql: text(),
})
export const eventsStatementReply = exactly<EventsStatement>({ sql: text().nullable(), missing: text().nullable() })

const pair = () => listOf(amount().nullable()).length(2)
export const looksReply = listOf(
  exactly<LookView>({
    metricVersionId: id(),
    variant: whole(),
    day: text(),
    visitors: pair(),
    means: pair(),
    lift: amount().nullable(),
    interval: interval().nullable(),
    pValue,
    fixedInterval: interval().nullable(),
    fixedPValue: pValue,
  }),
)

export const changesReply = page(
  exactly<ChangeView>({
    id: id(),
    at: moment(),
    person: text().nullable(),
    action: text(),
    words: text().nullable(),
    mayRestore: yesOrNo(),
    before: anything().nullable(),
    after: anything().nullable(),
  }),
)

export const exclusionsReply = page(
  exactly<ExclusionView>({
    id: id(),
    kind: oneOf<ExclusionView['kind']>('visitor', 'team', 'span'),
    visitor: text().nullable(),
    from: moment().nullable(),
    until: moment().nullable(),
    reason: text(),
    person: text().nullable(),
    at: moment(),
  }),
)

export const addedExclusionReply = exactly<{ id: number }>({ id: id() })

export const previewReply = exactly<PreviewView>({
  id: id(),
  variant: text(),
  path: text(),
  link: text(),
  person: text().nullable(),

  createdAt: moment(),
  expiresAt: moment(),
})

export const pointingReply = exactly<PointingSession>({
  token: text(),
  address: text(),
  copy: text(),
  expiresAt: moment(),
})

const job = exactly<NonNullable<VariantPictures['job']>>({
  id: id(),
  state: oneOf<NonNullable<VariantPictures['job']>['state']>('waiting', 'running', 'done', 'failed', 'canceled'),
  progress: amount(),
  problem: text().nullable(),
})
export const variantPicturesReply = exactly<VariantPictures>({
  canTake: yesOrNo(),
  pages: listOf(text()),
  pictures: listOf(
    exactly<VariantPicture>({
      id: id(),
      variant: text(),
      path: text(),
      width: whole(),
      height: whole(),
      language: text(),

      takenAt: moment(),
      isStale: yesOrNo(),
      problems: listOf(
        exactly<LayoutProblem>({
          kind: oneOf<LayoutProblemKind>('overlap', 'cut', 'overflow', 'image', 'contrast'),
          text: text(),
          box: exactly<LayoutProblem['box']>({ x: amount(), y: amount(), width: amount(), height: amount() }),
        }),
      ),
    }),
  ),
  job: job.nullable(),
})
