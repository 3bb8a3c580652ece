import type { MetricRole } from '../analysis/analysis'
import type { Edit } from '../edits/content'
import type { MetricDefinition } from '../measurement/metric'
import type { Group } from '../targeting/condition'
import type { PageRule } from '../targeting/pageRule'
import type { DecisionPlan } from '../verdict/verdict'
import type { SheetTerms } from './terms'

/**
 * What a sheet is for. test: to decide between variants; serve: a personalization, which is shown to whom it is for,
 * while its control is those who are held back, so that its effect is known.
 */
export const PURPOSES = ['test', 'serve'] as const
export type Purpose = (typeof PURPOSES)[number]

/** A page rule of a sheet. */
export type SheetPageRule = PageRule & { id: string }

/** A variant of a sheet, with its edits in the order of being applied. */
export interface SheetVariant {
  id: string
  name: string
  weight: number
  edits: Edit[]
  /** Of a multivariate test: the ids of the levels that it combines, in the order of the factors. */
  levels?: string[] | null
  /** Of a personalization, whom this wording is for; null, or left out, for everybody. The first that fits is shown. */
  audience?: Group | null
}

/** One way that a factor can be. */
export interface SheetLevel {
  id: string
  name: string
  edits: Edit[]
}

/** Something that varies by itself: a multivariate test shows the combinations of the levels of its factors. */
export interface SheetFactor {
  id: string
  name: string
  /** The page as it is first. */
  levels: SheetLevel[]
}

/** A metric of the site in its role on a sheet. */
export interface SheetMetric extends MetricDefinition {
  /** Of the metric: the same on every sheet that it is on. */
  id: string
  name: string
  direction: 'up' | 'down'
  role: MetricRole
  /** Relative change to the worse that a guardrail may not exceed; null for other roles. */
  limit: number | null
}

/**
 * What a plan's primary metric is adjusted by before it is decided on: nothing, or what visitors did before their
 * exposure, as a model says that is fitted before the start (see `expectedValue.ts`).
 */
export const ADJUSTMENTS = ['nothing', 'past'] as const
export type Adjustment = (typeof ADJUSTMENTS)[number]

/** Whether visitors are split as set throughout, or more and more of the new ones get what does better. */
export const SPLITS = ['set', 'moving'] as const
export type Split = (typeof SPLITS)[number]

/** What each variant and the control keep of a moving split, where the plan does not say. */
export const LEAST_SHARE = 0.1

/** The decision plan, with what the control is expected to be: a rate, or mean and deviation of one visitor's value. */
export type SheetPlan = Omit<DecisionPlan, 'plannedVisitors'> & {
  /** null: computed from the traffic, until the start writes it down. */
  plannedVisitors: number | null
  baseline: number | null
  mean?: number | null
  deviation?: number | null
  /** nothing, where left out */
  adjustedBy?: Adjustment
  /** set, where left out */
  split?: Split
  /** Of a moving split, the least share of new visitors that each variant and the control keep. */
  leastShare?: number
  /** Of a moving split, after how many visitors it moves; null, or left out, for each day. */
  batchVisitors?: number | null
}

/** What was decided when an experiment ended: which variant to keep, and why. */
export interface Decision {
  /** Id of the variant; null where nothing was decided. */
  variant: string | null
  reason: string
  /** Who decided; null for a program. */
  person: string | null
}

/** What people write on a sheet. Each thing on it has an id that stays, whatever is changed about it. */
export interface SheetContent {
  name: string
  hypothesis: string
  pageRules: SheetPageRule[]
  /** Conditions on visitors; null for everybody. */
  audience: Group | null
  /** Of 10,000 buckets. */
  share: number
  terms: SheetTerms
  /** Of a multivariate test; empty for an A/B test. */
  factors: SheetFactor[]
  /** Combinations of a multivariate test that visitors do not get. */
  combinationsOff: { id: string }[]
  /** The control first. Of a multivariate test they follow from its factors. */
  variants: SheetVariant[]
  /** The primary one first. */
  metrics: SheetMetric[]
  plan: SheetPlan
}

export type SheetPart = keyof SheetContent
export const SHEET_PARTS: readonly SheetPart[] = [
  'name',
  'hypothesis',
  'pageRules',
  'audience',
  'share',
  'terms',
  'factors',
  'combinationsOff',
  'variants',
  'metrics',
  'plan',
]
