import type { Edit } from '../../core/edits/content'
import { lazy, mixed, tuple, type Schema } from '../yup'
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
import type { MetricSource } from '../../core/measurement/metric'
import type { SheetTerms } from '../../core/sheet/terms'
import type { Group } from '../../core/targeting/condition'
import type { LayoutProblemKind } from '../../core/layout/layoutProblems'
import type { PreflightFinding } from '../../core/preflight/preflight'
import type { SheetPageRule, SheetPlan } from '../../core/sheet/content'
import type { SoundnessFinding } from '../../core/statistics/soundness'
import type { Shortfall } from '../../core/statistics/shortfall'
import type { ReachedVerdict } from '../../core/verdict/reachedVerdict'
import type { Verdict } from '../../core/verdict/verdict'
import { metricSourceSchema } from '../metrics/metricSchema'
import type { ExclusionView } from './exclusion'
import type { ExperimentState, MetricView } from './experiment'
import type { VariantPictures } from '../pictures/variantPicture'
import { editSchema } from '../edits/edit'
import { pageRuleFields } from '../collection/replies'

const state = oneOf<ExperimentState>('draft', 'running', 'paused', 'ended')
const direction = oneOf<MetricView['direction']>('up', 'down')

const verdict = exactly({
  kind: oneOf<Verdict['kind']>('distrust', 'harm', 'early', 'ship', 'no-difference', 'ship-low-risk', 'open', 'go-on'),
  variant: text().nullable(),
  title: text(),
  reasons: listOf(text()),
})

const metric = exactly({
  id: text(),
  versionId: id(),
  name: text(),
  kind: oneOf<MetricView['kind']>('conversion', 'mean', 'ratio'),
  source: deciding<MetricSource>(metricSourceSchema),
  denominator: deciding<MetricSource | null>(
    lazy((source: unknown) => (source === null ? mixed().nullable() : metricSourceSchema)),
  ),
  cap: amount().nullable(),
  windowDays: whole().nullable(),
  direction,
  role: oneOf<MetricView['role']>('primary', 'secondary', 'guardrail'),
  limit: amount().nullable(),
})

const finding = exactly({
  section: oneOf<PreflightFinding['section']>('why', 'what', 'who', 'measured', 'decided'),
  text: text(),
  isStop: yesOrNo(),
})

const effect = {
  factors: listOf(text()),
  levels: listOf(text()),
}
const factorial = exactly({
  effects: listOf(
    exactly({
      ...effect,
      estimate: amount(),
      standardError: amount(),
      interval: interval(),
      pValue: amount(),
      aliases: listOf(exactly(effect)).optional(),
    }),
  ),
  contrasts: listOf(
    exactly({
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
  bestCell: exactly({
    levels: anything<Record<string, string>>(),
    visitors: whole(),
    mean: amount(),
    fitted: amount(),
    interval: interval(),
  }).nullable(),
  why: text().optional(),
})

export const sheetReply = exactly({
  id: id(),
  siteId: id(),
  currency: text(),
  timeZone: text(),
  allowsScripts: yesOrNo(),
  name: text(),
  hypothesis: text(),
  state,
  version: id(),
  audience: anything<Group>().nullable(),
  terms: anything<SheetTerms>(),
  ramp: exactly({ step: whole(), until: moment(), final: whole(), problem: text().nullable() }).nullable().defined(),
  schedule: exactly({ start: moment().nullable(), end: moment().nullable(), problem: text().nullable() }),
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
    }),
  ),
  metrics: listOf(metric),
  plan: exactly({
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
  decision: exactly({ variant: text().nullable(), reason: text(), person: text().nullable() }).nullable(),
  preflight: listOf(finding),
})

export const preflightReply = exactly({
  version: id(),
  forecast: exactly({
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

export const experimentSummary = exactly({
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
  best: exactly({
    variant: text(),
    position: whole(),
    lift: amount().nullable(),
    interval: interval().nullable(),
  }).nullable(),
})
export const experimentsReply = page(experimentSummary)

const why = text().optional()
const lift = { estimate: amount().nullable(), interval: interval().nullable(), why }
const liftEstimate = exactly(lift)
const difference = exactly({ ...lift, standardError: amount().nullable() })
const pValue = amount().nullable()

const comparison = exactly({
  variant: text(),
  difference,
  lift: liftEstimate,
  pValue,
  adjustedPValue: pValue,
  degreesOfFreedom: amount().nullable(),
  sequential: exactly({ interval: interval().nullable(), lift: liftEstimate, pValue, why }),
  posterior: exactly({
    probabilityBetter: amount().nullable(),
    expectedLoss: amount().nullable(),
    expectedLossOfControl: amount().nullable(),
    liftInterval: interval().nullable(),
    why,
  }),
  shortfall: exactly({
    arm: oneOf<Shortfall['arm']>('control', 'variant'),
    what: oneOf<Shortfall['what']>('conversions', 'visitors without a conversion', 'visitors with a value', 'visitors'),
    has: whole(),
    needs: whole(),
  }).nullable(),
  varianceReduction: exactly({
    theta: amount(),
    shareRemoved: amount().nullable(),
    difference,
    pValue,
    why,
  }).optional(),
  // Asked for by themselves.
  segments: mixed().oneOf([undefined]),
})

const heterogeneity = exactly({ q: amount().nullable(), degreesOfFreedom: whole(), pValue, why })
const arm = exactly({
  visitors: whole(),
  sum: amount(),
  denominator: amount(),
  mean: amount().nullable(),
  variance: amount().nullable(),
})

export const daysReply = listOf(
  exactly({
    day: text(),
    visitors: listOf(whole()),
    metrics: listOf(exactly({ metricVersionId: id(), arms: listOf(arm), lifts: listOf(liftEstimate) })),
  }),
)

export const segmentsReply = listOf(
  exactly({
    dimension: text(),
    metrics: listOf(
      exactly({
        metricVersionId: id(),
        comparisons: listOf(
          exactly({
            readings: listOf(
              exactly({
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

export const resultsReply = exactly({
  arms: listOf(exactly({ name: text(), visitors: whole() })),
  visitors: whole(),
  crossed: whole(),
  daysRun: amount(),
  allocation: exactly({
    observed: listOf(amount()),
    expected: listOf(amount()),
    chiSquare: amount(),
    degreesOfFreedom: whole(),
    pValue: amount(),
    sequentialPValue: amount(),
    alarm: yesOrNo(),
  }).nullable(),
  metrics: listOf(
    exactly({
      metric,
      arms: listOf(arm),
      comparisons: listOf(comparison),
      probabilityBest: listOf(amount().nullable()),
      withPast: whole(),
      factorial: factorial.nullable(),
    }),
  ),
  soundness: listOf(
    exactly({
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
  reached: exactly({
    verdict,
    at: moment(),
    daysRun: amount(),
    visitors: whole(),
    rule: oneOf<ReachedVerdict['rule']>('sequential', 'fixed', 'low-risk'),
    variants: listOf(
      exactly({
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

export const explanationReply = exactly({
  title: text(),
  value: text(),
  definition: text(),
  inputs: listOf(exactly({ name: text(), value: text() })),
  formula: text(),
  source: text().nullable(),
  sql: text(),
})
export const eventsStatementReply = exactly({ sql: text().nullable(), missing: text().nullable() })

const pair = () =>
  tuple([amount().nullable(), amount().nullable()]).strict().required() as Schema<[number | null, number | null]>
export const looksReply = listOf(
  exactly({
    metricVersionId: id(),
    variant: whole(),
    day: text(),
    visitors: interval(),
    means: pair(),
    lift: amount().nullable(),
    interval: interval().nullable(),
    pValue,
    fixedInterval: interval().nullable(),
    fixedPValue: pValue,
  }),
)

export const changesReply = page(
  exactly({
    id: id(),
    at: moment(),
    person: text().nullable(),
    action: text(),
    words: text().nullable(),
    mayRestore: yesOrNo(),
    before: anything<Record<string, unknown>>().nullable(),
    after: anything<Record<string, unknown>>().nullable(),
  }),
)

export const exclusionsReply = page(
  exactly({
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

export const pointingReply = exactly({
  token: text(),
  address: text(),
  copy: text(),
  expiresAt: moment(),
})

const job = exactly({
  id: id(),
  state: oneOf<NonNullable<VariantPictures['job']>['state']>('waiting', 'running', 'done', 'failed', 'canceled'),
  progress: amount(),
  problem: text().nullable(),
})
export const variantPicturesReply = exactly({
  canTake: yesOrNo(),
  pages: listOf(text()),
  pictures: listOf(
    exactly({
      id: id(),
      variant: text(),
      path: text(),
      width: whole(),
      height: whole(),
      language: text(),

      takenAt: moment(),
      isStale: yesOrNo(),
      problems: listOf(
        exactly({
          kind: oneOf<LayoutProblemKind>('overlap', 'cut', 'overflow', 'image', 'contrast'),
          text: text(),
          box: exactly({ x: amount(), y: amount(), width: amount(), height: amount() }),
        }),
      ),
    }),
  ),
  job: job.nullable(),
})
