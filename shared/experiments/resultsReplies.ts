import { mixed, tuple, type Schema, type InferType } from '../yup'
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
import { TRAITS } from '../../core/traffic/splitByTrait'
import { SPLIT_CAUSES } from '../../core/traffic/splitCauses'
import type { SoundnessFinding } from '../../core/statistics/soundness'
import type { Shortfall } from '../../core/statistics/shortfall'
import { DECISION_RULES } from '../../core/verdict/verdict'
import type { ReachedVerdict } from '../../core/verdict/reachedVerdict'
import { crowdPlace, metricReply, verdictReply } from './replies'

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

const why = text().optional()
const lift = { estimate: amount().nullable(), interval: interval().nullable(), why }
export const liftEstimate = exactly(lift)
const difference = exactly({ ...lift, standardError: amount().nullable() })
const pValue = amount().nullable()

const adjustedLift = () => exactly({ lift: amount(), interval: interval() })
/** What the plan said of a variant at a look of its own. */
const planned = {
  /** Days of the run that were over. */
  daysRun: whole(),
  isLast: yesOrNo(),
  /** Of the information that the planned visitors bring. */
  share: amount(),
  bound: amount().nullable(),
  interval: interval().nullable(),
  lift: liftEstimate,
  pValue: amount(),
  adjusted: adjustedLift().nullable(),
}

/** What is missing before a comparison may be read. */
export const shortfallReply = exactly({
  arm: oneOf<Shortfall['arm']>('control', 'variant'),
  what: oneOf<Shortfall['what']>('conversions', 'visitors without a conversion', 'visitors with a value', 'visitors'),
  has: whole(),
  needs: whole(),
})

const comparison = exactly({
  variant: text(),
  difference,
  lift: liftEstimate,
  pValue,
  adjustedPValue: pValue,
  degreesOfFreedom: amount().nullable(),
  planned: exactly(planned).nullable().optional(),
  sequential: exactly({ interval: interval().nullable(), lift: liftEstimate, pValue, why }),
  posterior: exactly({
    probabilityBetter: amount().nullable(),
    expectedLoss: amount().nullable(),
    expectedLossOfControl: amount().nullable(),
    liftInterval: interval().nullable(),
    why,
  }),
  shortfall: shortfallReply.nullable(),
  varianceReduction: exactly({
    theta: amount(),
    shareRemoved: amount().nullable(),
    difference,
    pValue,
    why,
  }).optional(),
  /** Without the adjustment, where the plan decides by adjusted numbers: for one look. */
  unadjusted: exactly({ lift: liftEstimate, difference, pValue }).optional(),
  // Asked for by themselves.
  segments: mixed().oneOf([undefined]),
})

const heterogeneity = exactly({ q: amount().nullable(), degreesOfFreedom: whole(), pValue, why })
const arm = exactly({
  visitors: whole(),
  /** Conversions, the sum of amounts, or of a ratio the sum of the numerator. */
  sum: amount(),
  /** Of a ratio. */
  denominator: amount(),
  mean: amount().nullable(),
  /** Of one visitor's value. */
  variance: amount().nullable(),
})
/** One arm of one metric. */
export type ArmView = InferType<typeof arm>

const day = exactly({
  day: text(),
  /** Of each arm, the control first. */
  visitors: listOf(whole()),
  /** In the order of the sheet. */
  metrics: listOf(
    exactly({
      metricVersionId: id(),
      arms: listOf(arm),
      /** Of each variant, for one look at the visitors of this day alone. */
      lifts: listOf(liftEstimate),
    }),
  ),
})
/** The visitors of one day, by the day of their first exposure. */
export type DayView = InferType<typeof day>

export const daysReply = listOf(day)

const segmentReading = exactly({
  /** null: all other values together. */
  value: text().nullable(),
  /** In the control and the variant together. */
  visitors: whole(),
  controlMean: amount().nullable(),
  mean: amount().nullable(),
  /** For one look. */
  lift: liftEstimate,
  pValue,
  /** Corrected over all values of all segments. */
  adjustedPValue: pValue,
})
export type SegmentReadingView = InferType<typeof segmentReading>

const segment = exactly({
  dimension: text(),
  /** In the order of the sheet. */
  metrics: listOf(
    exactly({
      metricVersionId: id(),
      /** One a variant, in the order of the arms after the control. */
      comparisons: listOf(
        exactly({
          readings: listOf(segmentReading),
          heterogeneity,
        }),
      ),
    }),
  ),
})
/** What happened within each value of one segment. */
export type SegmentView = InferType<typeof segment>

export const segmentsReply = listOf(segment)

const ofStretches = exactly({ readings: listOf(segmentReading), heterogeneity })
const trend = exactly({
  metricVersionId: id(),
  /** One a variant, in the order of the arms after the control. */
  comparisons: listOf(
    exactly({
      /** By the week of the run of the first exposure; corrected over the weeks alone. */
      week: ofStretches,
      /** Weekdays and weekends. */
      weekday: ofStretches,
      /** How the ratio of variant and control changes from week to week; null with fewer than three. */
      trend: exactly({ perWeek: amount(), interval: interval(), pValue: amount() }).nullable(),
      /** The first week beside all later ones. */
      firstWeek: exactly({
        first: liftEstimate,
        later: liftEstimate,
        pValue,
        /** Whether the lift of the whole run is there by its first week alone. */
        carriesResult: yesOrNo(),
      }).nullable(),
    }),
  ),
})
/** Whether one metric’s lift is the same throughout the run. */
export type TrendView = InferType<typeof trend>

export const trendsReply = listOf(trend)

export const sinceExposureReply = exactly({
  /** Who were followed through all days that are shown. */
  visitors: whole(),
  isSample: yesOrNo(),
  /** Why there is nothing to show. */
  why: text().nullable(),
  /** One a variant, in the order of the arms after the control. */
  comparisons: listOf(
    exactly({
      readings: listOf(segmentReading),
      heterogeneity,
      /** How the ratio of variant and control changes with each doubling of the days; null with too few. */
      trend: exactly({ perDoubling: amount(), interval: interval(), pValue: amount() }).nullable(),
    }),
  ),
})
/** One metric’s lift by the days since visitors saw the experiment first. */
export type SinceExposureView = InferType<typeof sinceExposureReply>

const interaction = exactly({
  experimentId: id(),
  name: text(),
  /** Who saw both. */
  visitors: whole(),
  /** One a variant, in the order of the arms after the control: the lift within each variant of the other. */
  comparisons: listOf(
    exactly({
      readings: listOf(segmentReading),
      heterogeneity,
      /** Of whether they differ, corrected over all experiments and variants. */
      adjustedPValue: pValue,
    }),
  ),
})
/** Another experiment that shares visitors, and whether the effect depends on it. */
export type InteractionView = InferType<typeof interaction>

export const interactionsReply = listOf(interaction)

const metricResults = exactly({
  metric: metricReply,
  /** In the order of the variants, the control first. */
  arms: listOf(arm),
  /** What the arms are compared by after the adjustment that the plan fixed; null where nothing is adjusted. */
  adjusted: listOf(exactly({ mean: amount().nullable(), variance: amount().nullable() })).nullable(),
  /** One a variant, in the order of the arms after the control. */
  comparisons: listOf(comparison),
  probabilityBest: listOf(amount().nullable()),
  /** Visitors of whom there is something to adjust by: an earlier visit, or with an adjusted plan what it expects. */
  withPast: whole(),
  /** Of a multivariate test: what each factor does, for one look. */
  factorial: factorial.nullable(),
})
/** What one metric says. */
export type MetricResults = InferType<typeof metricResults>

/** Whether the arms have the visitors that their weights promise. */
export const allocationReply = exactly({
  observed: listOf(amount()),
  expected: listOf(amount()),
  chiSquare: amount(),
  degreesOfFreedom: whole(),
  pValue: amount(),
  sequentialPValue: amount(),
  alarm: yesOrNo(),
})

export const resultsReply = exactly({
  /** Names and visitors, the control first. */
  arms: listOf(exactly({ name: text(), visitors: whole() })),
  visitors: whole(),
  /** Visitors who were seen in more than one variant. */
  crossed: whole(),
  daysRun: amount(),
  allocation: allocationReply.nullable(),
  /** In the order of the sheet, the primary one first. */
  metrics: listOf(metricResults),
  /** What the primary metric's lift is multiplied by for its money in a month; null where nothing says what a unit brings. */
  money: exactly({
    visitorsAMonth: amount(),
    unitValue: amount(),
    /** The metric counts money, the team says it, or the orders of this experiment do. */
    from: oneOf('metric', 'team', 'orders'),
  }).nullable(),
  /** Of a split that moves, what the visitors of each period came to in the primary metric; empty for others. */
  periods: listOf(exactly({ visitors: listOf(whole()), means: listOf(amount().nullable()) })),
  /** Reasons not to trust the data, or to look closer. */
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
        'crowd',
      ),
      isBreaking: yesOrNo(),
      text: text(),
      /** Of a crowd: which one, so that it can be left out. */
      crowd: crowdPlace.optional().default(undefined),
    }),
  ),
  /** What to go by. */
  verdict: verdictReply.nullable(),
  /** The first verdict that ended the question, with the numbers that it was reached by. */
  reached: exactly({
    verdict: verdictReply,
    at: moment(),
    daysRun: amount(),
    visitors: whole(),
    rule: oneOf<ReachedVerdict['rule']>(...DECISION_RULES),
    variants: listOf(
      exactly({
        name: text(),
        visitors: whole(),
        lift: amount().nullable(),
        interval: interval().nullable(),
        adjusted: adjustedLift().nullable().optional(),
      }),
    ),
  }).nullable(),
  /** What the numbers of now say, where that is something else. */
  since: verdictReply.nullable(),
  /** The chance that the plan still ends with a variant being shipped; null once that is no question, or cannot be said. */
  outlook: exactly({
    /** Visitors of all arms that are reckoned with. */
    visitorsADay: amount(),
    /** Whether the plan advises to stop. */
    isLittle: yesOrNo(),
    variants: listOf(exactly({ variant: text(), predictive: amount(), asSeen: amount(), worthwhile: amount() })),
  }).nullable(),
  /** When the plan’s next look is due; null where it takes none, or none any more. */
  nextLookAt: moment().nullable(),
  foldedAt: moment().nullable(),
})
/** What happened, as of the last fold. */
export type ExperimentResults = InferType<typeof resultsReply>

export const explanationReply = exactly({
  title: text(),
  value: text(),
  /** What the number means. */
  definition: text(),
  /** What it is computed from. */
  inputs: listOf(exactly({ name: text(), value: text() })),
  formula: text(),
  source: text().nullable(),
  /** Reads the inputs from Vetch's own tables. */
  sql: text(),
})
/** What stands behind one number: enough to compute it again. */
export type Explanation = InferType<typeof explanationReply>

export const eventsStatementReply = exactly({ sql: text().nullable(), missing: text().nullable() })
/** The statement that computes the inputs from views and events, or why there is none. */
export type EventsStatement = InferType<typeof eventsStatementReply>

const pair = () =>
  tuple([amount().nullable(), amount().nullable()]).strict().required() as Schema<[number | null, number | null]>
const look = exactly({
  metricVersionId: id(),
  /** Position of the variant that is compared with the control. */
  variant: whole(),
  day: text(),
  visitors: interval(),
  means: pair(),
  lift: amount().nullable(),
  /** Always valid. */
  interval: interval().nullable(),
  pValue,
  /** Smallest over all looks so far. */
  fixedInterval: interval().nullable(),
  fixedPValue: pValue,
})
const plannedLook = exactly({
  ...planned,
  variant: whole(),
  day: text(),
  /** Of the control and the variant. */
  visitors: interval(),
})
/** One look at one comparison, the last of its day. */
export type LookView = InferType<typeof look>

export const looksReply = exactly({
  days: listOf(look),
  /** The looks that the plan took at the primary metric, where it spends its error until its end. */
  planned: listOf(plannedLook),
})
export type LooksView = InferType<typeof looksReply>
/** One look of the plan at one variant. */
export type PlannedLookView = LooksView['planned'][number]

const valueSplit = exactly({
  /** Empty for all other values together. */
  value: text(),
  visitors: listOf(whole()),
  expected: listOf(amount()),
  adjustedPValue: amount().nullable(),
  isOff: yesOrNo(),
  othersPValue: amount(),
})
export const splitReply = exactly({
  /** Names of the variants, the control first. */
  arms: listOf(text()),
  visitors: whole(),
  /** Visitors who were looked at: all of them, or a sample. */
  looked: whole(),
  traits: listOf(
    exactly({
      trait: oneOf(...TRAITS),
      values: listOf(valueSplit),
      adjustedPValue: amount().nullable(),
      matters: yesOrNo(),
    }),
  ),
  /** What the values of the trait `period` stand for. */
  periods: listOf(exactly({ from: moment(), words: text() })),
  causes: listOf(exactly({ cause: oneOf(...SPLIT_CAUSES), isShown: yesOrNo(), because: listOf(text()) })),
})
/** Visitors by variant and what they were, and what may have put the split off. */
export type SplitView = InferType<typeof splitReply>
