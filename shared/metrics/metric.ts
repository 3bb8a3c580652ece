import { metricSchema } from './metricSchema'
import { object, string } from '../yup'

export const metricNameSchema = object({
  name: string().trim().max(100, 'The name is longer than 100 characters.').required('Give the metric a name.'),
})

/** A definition that nobody has kept yet. */
export const metricTrialSchema = metricSchema.pick(['kind', 'source', 'denominator', 'cap'])
