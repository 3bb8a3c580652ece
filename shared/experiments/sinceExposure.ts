import { number, object } from '../yup'

export const sinceExposureQuerySchema = object({
  /** The version of a metric of the sheet. */
  metric: number()
    .typeError('Name the metric by the number of its version.')
    .integer('Name the metric by the number of its version.')
    .min(1, 'Name the metric by the number of its version.')
    .required('Name the metric by the number of its version.'),
})
