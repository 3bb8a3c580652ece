import { array, boolean, number, object, string, type InferType } from '../yup'
import { metricSourceSchema } from '../metrics/metricSchema'
import { filterFields, SPAN } from './filter'

export const FEWEST_STEPS = 2
export const MOST_STEPS = 12
const MOST_MINUTES = 60 * 24 * 90

/** What leads from step to step, and how. */
export const funnelPlanSchema = object({
  steps: array(
    object({
      name: string().trim().max(60, 'The name is longer than 60 characters.').required('Give the step a name.'),
      source: metricSourceSchema,
    }).required(),
  )
    .min(FEWEST_STEPS, 'A funnel has at least two steps.')
    .max(MOST_STEPS, `A funnel has at most ${MOST_STEPS} steps.`)
    .required('Name the steps.'),
  isStrict: boolean().default(false),
  /** From the first step to the last; null without a limit. */
  limitMinutes: number()
    .typeError('Type the limit in minutes.')
    .integer('Type the limit in whole minutes.')
    .min(1, 'The limit is at least a minute.')
    .max(MOST_MINUTES, 'The limit is at most 90 days.')
    .nullable()
    .default(null),
  isWithinSession: boolean().default(true),
})
export type FunnelInput = InferType<typeof funnelPlanSchema>

export const savedFunnelSchema = object({
  name: string().trim().max(80, 'The name is longer than 80 characters.').required('Give the funnel a name.'),
  plan: funnelPlanSchema.required(),
})

export const funnelQuestionSchema = object({ ...filterFields, plan: funnelPlanSchema.required() }).test(...SPAN)

export const leftQuestionSchema = object({
  ...filterFields,
  plan: funnelPlanSchema.required(),
  /** Counted from 0. */
  step: number().integer().min(0).max(MOST_STEPS).required('Say which step they left at.'),
}).test(...SPAN)
