import type { ExperimentSheet } from './replies'
import { combinationCount } from '../../core/factors/combinations'
import { MOST_FACTORS } from '../../core/factors/kindOfTest'
import type { SheetContent } from '../../core/sheet/content'
import { audienceSchema } from '../audiences/condition'
import { metricsSchema } from '../metrics/metricSchema'
import { servedAfterSchema } from '../rollouts/rollout'
import { array, number, object, string, type InferType } from '../yup'
import { nameSchema } from './experimentList'
import { planSchema } from './planSchema'
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

/** The decision, and to whom the variant goes from that moment on: to nobody where that is left out. */
export const endSchema = decisionSchema.shape({ rollout: servedAfterSchema.nullable().default(null) })
export type EndInput = InferType<typeof endSchema>

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

export type ExperimentState = 'draft' | 'running' | 'paused' | 'ended'

/** What people write on a sheet, without what follows from it. */
export function contentOf(sheet: ExperimentSheet): SheetContent {
  const { name, hypothesis, pageRules, audience, share, terms, factors, combinationsOff, variants, metrics, plan } =
    sheet
  const own = metrics.map(({ versionId: _, ...metric }) => metric)
  return { name, hypothesis, pageRules, audience, share, terms, factors, combinationsOff, variants, metrics: own, plan }
}
