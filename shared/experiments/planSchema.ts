import { DECISION_RULES, SELF_PAUSES } from '../../core/verdict/verdict'
import { ADJUSTMENTS, SPLITS } from '../../core/sheet/content'
import { number, object, string } from '../yup'

const weeks = (label: string) =>
  number()
    .typeError(`Type the ${label} in whole weeks.`)
    .integer(`Type the ${label} in whole weeks.`)
    .min(1, `The ${label} is one week or more.`)
    .max(52, `The ${label} is at most 52 weeks.`)
    .required(`Type the ${label} in whole weeks.`)
const share = (message: string) =>
  number().typeError(message).moreThan(0, message).lessThan(1, message).required(message)

/** An empty field of a number that may be missing. */
const nothingForEmpty = (value: number, original: unknown) => (original === '' ? null : value)

export const planSchema = object({
  smallestLift: number()
    .typeError('Type the smallest worthwhile lift in percent.')
    .moreThan(0, 'The smallest worthwhile lift is above 0 %.')
    .max(10, 'The smallest worthwhile lift is at most 1,000 %.')
    .required('Type the smallest worthwhile lift in percent.'),
  /** null: as it was in the last four weeks. */
  baseline: number()
    .transform(nothingForEmpty)
    .typeError('The expected rate lies between 0 % and 100 %.')
    .moreThan(0, 'The expected rate lies between 0 % and 100 %.')
    .lessThan(1, 'The expected rate lies between 0 % and 100 %.')
    .nullable()
    .default(null),
  mean: number()
    .transform(nothingForEmpty)
    .typeError('Type the expected mean as a number.')
    .notOneOf([0], 'The expected mean is not 0.')
    .nullable(),
  deviation: number()
    .transform(nothingForEmpty)
    .typeError('Type the standard deviation as a number.')
    .moreThan(0, 'The standard deviation is above 0.')
    .nullable(),
  alpha: share('The error level lies between 0 and 1.'),
  rule: string().oneOf(DECISION_RULES).required(),
  lossLimit: share('The accepted loss lies between 0 % and 100 %.'),
  guardrailRule: string()
    .oneOf(['unharmed', 'safe'] as const)
    .default(undefined),
  pausesFor: string().oneOf(SELF_PAUSES, 'Choose what it pauses for.').default(undefined),
  adjustedBy: string().oneOf(ADJUSTMENTS, 'Choose what it is adjusted by.').default(undefined),
  split: string().oneOf(SPLITS, 'Choose how visitors are split.').default(undefined),
  leastShare: number()
    .transform(nothingForEmpty)
    .typeError('Type the least share in percent.')
    .min(0.01, 'The least share is 1 % or more: with less nothing is learned any more.')
    .max(0.5, 'The least share is at most 50 %.'),
  batchVisitors: number()
    .transform(nothingForEmpty)
    .typeError('Type the visitors as a whole number.')
    .integer('Type the visitors as a whole number.')
    .min(100, 'Move after 100 visitors or more.')
    .max(1e8, 'Move after at most 100,000,000 visitors.')
    .nullable(),
  leastChance: number()
    .transform(nothingForEmpty)
    .typeError('Type the chance in percent.')
    .moreThan(0, 'The chance lies between 0 % and 100 %. Leave it empty for no advice.')
    .lessThan(1, 'The chance lies between 0 % and 100 %. Leave it empty for no advice.')
    .nullable(),
  leastWeeks: weeks('least run'),
  longestWeeks: weeks('longest run'),
  /** null: computed from the traffic. */
  plannedVisitors: number()
    .transform(nothingForEmpty)
    .typeError('Type the planned visitors as a whole number.')
    .integer('Type the planned visitors as a whole number.')
    .min(2, 'Plan for at least two visitors.')
    .max(1e9, 'Plan for at most 1,000,000,000 visitors.')
    .nullable()
    .default(null),
})
