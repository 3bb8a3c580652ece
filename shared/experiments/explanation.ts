import { number, object, string } from '../yup'
import { READINGS } from '../../core/analysis/readings'

/** Numbers of an experiment that open to what stands behind them. */
export const EXPLAINED_NUMBERS = [
  'visitors',
  'sum',
  'mean',
  'lift',
  'interval',
  'p-value',
  'probability-better',
  'loss',
  'best',
  'variance-reduction',
  'allocation',
] as const
export type ExplainedNumber = (typeof EXPLAINED_NUMBERS)[number]

/** Which number: of a metric, by its version, and of one of its arms. */
export const numberSchema = object({
  number: string().oneOf(EXPLAINED_NUMBERS, 'There is no such number.').required('Say which number.'),
  metric: number()
    .integer()
    .when('number', {
      is: 'allocation',
      otherwise: (schema) => schema.required('Say of which metric.'),
    }),
  /** Position of the arm; 0 is the control. */
  variant: number().integer('Say which variant by its position.').min(0).default(0),
  method: string().oneOf(READINGS, 'There is no such reading.').default('sequential'),
})
