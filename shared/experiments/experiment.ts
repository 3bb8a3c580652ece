import { combinationCount } from '../../core/factors/combinations'
import { MOST_FACTORS } from '../../core/factors/kindOfTest'
import type { MetricSource } from '../../core/measurement/metric'
import type { PreflightFinding } from '../../core/preflight/preflight'
import type { Decision, SheetContent, SheetMetric } from '../../core/sheet/content'
import type { Forecast } from '../../core/sheet/planReading'
import { audienceSchema } from '../audiences/condition'
import { metricsSchema } from '../metrics/metricSchema'
import { array, number, object, string } from '../yup'
import { nameSchema } from './experimentList'
import { planSchema } from './planSchema'
import type { RampView, Schedule } from './schedule'
import {
  combinationOffSchema,
  factorSchema,
  MOST_COMBINATIONS,
  MOST_VARIANTS,
  sheetPageRuleSchema,
  variantSchema,
} from './sheetParts'
import { termsSchema } from './terms'

/** The version that was read. */
export const readVersionSchema = object({ version: number().integer() })

/** What is decided at the end: the variant to keep, and why. */
export const decisionSchema = object({
  variant: string().trim().max(40, 'Choose one of the variants.').nullable().default(null),
  reason: string().trim().max(2000, 'The reason is longer than 2,000 characters.').default(''),
})

/** Everything that people write on a sheet. */
export const sheetContentSchema = object({
  name: nameSchema.required('Give the experiment a name.'),
  hypothesis: string().max(5000, 'The hypothesis is longer than 5,000 characters.').defined(),
  pageRules: array(sheetPageRuleSchema.required()).max(20, 'At most 20 addresses.').defined(),
  audience: audienceSchema,
  share: number()
    .typeError('Type the traffic share in percent.')
    .integer('The traffic share has at most two decimals.')
    .min(0, 'The traffic share is at least 0 %.')
    .max(10_000, 'The traffic share is at most 100 %.')
    .required('Type the traffic share in percent.'),
  terms: termsSchema,
  factors: array(factorSchema.required())
    .max(MOST_FACTORS, `At most ${MOST_FACTORS} factors.`)
    .test(
      'combinations',
      `The levels make more than ${MOST_COMBINATIONS} combinations. Remove a level or a factor.`,
      (factors) => combinationCount((factors ?? []) as { levels: unknown[] }[]) <= MOST_COMBINATIONS,
    )
    .test('level-ids', 'Two levels have the same id.', (factors) => {
      const ids = (factors ?? []).flatMap(({ levels }) => (levels ?? []).map(({ id }) => id))
      return new Set(ids).size === ids.length
    })
    .default([]),
  combinationsOff: array(combinationOffSchema.required())
    .max(1000, 'At most 1,000 combinations are switched off.')
    .default([]),
  variants: array(variantSchema.required())
    .min(1, 'The control cannot be removed.')
    .max(MOST_VARIANTS, `At most ${MOST_VARIANTS} variants.`)
    .defined(),
  metrics: metricsSchema.defined(),
  plan: planSchema,
})

export interface MetricView extends SheetMetric {
  /** Which definition of it is used. */
  versionId: number
  denominator: MetricSource | null
  cap: number | null
  windowDays: number | null
}

export type ExperimentState = 'draft' | 'running' | 'paused' | 'ended'
/** Everything a sheet shows of an experiment, but for its results. */
export interface ExperimentSheet extends SheetContent {
  id: number
  siteId: number
  /** Currency of amounts on the site, such as EUR. */
  currency: string
  /** Reporting time zone of the site. */
  timeZone: string
  /** Whether variants may bring scripts of their own, by the site's settings. */
  allowsScripts: boolean
  state: ExperimentState
  schedule: Schedule
  ramp: RampView | null
  /** Counts up with every change. */
  version: number
  metrics: MetricView[]
  createdAt: string
  startedAt: string | null
  endedAt: string | null
  /** Of an ended experiment, where somebody said. */
  decision: Decision | null
  /** What keeps it from starting; empty for all but drafts. */
  preflight: PreflightFinding[]
}

/** What people write on a sheet, without what follows from it. */
export function contentOf(sheet: ExperimentSheet): SheetContent {
  const { name, hypothesis, pageRules, audience, share, terms, factors, combinationsOff, variants, metrics, plan } =
    sheet
  const own = metrics.map(({ versionId: _, ...metric }) => metric)
  return { name, hypothesis, pageRules, audience, share, terms, factors, combinationsOff, variants, metrics: own, plan }
}

/** What can only be known by looking: at the traffic of the last four weeks, at the pages, and at what runs beside. */
export interface PreflightReport {
  /** Of the sheet that was looked at. */
  version: number
  forecast: Forecast
  /** The most visited pages of the sheet, which the edits were tried on. */
  pages: string[]
  findings: PreflightFinding[]
}
