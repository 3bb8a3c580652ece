import { PURPOSES } from '../../core/sheet/content'
import { pageSchema } from '../api/paging'
import { number, object, string } from '../yup'

export const nameSchema = string().trim().max(120, 'The name is longer than 120 characters.')

const purpose = string().oneOf(PURPOSES, 'There is no such purpose.')

/** What a draft is for that is made from something else. */
export const purposeSchema = object({ purpose: purpose.default('test') })

export const newExperimentSchema = purposeSchema.shape({ name: nameSchema.required('Give it a name.') })

/** Of an experiment, the variant that a personalization is drafted from. */
export const personalizationSchema = object({
  variant: string().trim().max(40, 'Choose one of the variants.').required('Choose one of the variants.'),
})

/** Of which variant a text for developers is: of all, where left out. */
export const developerTextSchema = object({
  variant: number().integer('There is no such variant.').min(1, 'The control changes nothing.'),
})

/** What experiments can be sorted by. */
export const EXPERIMENT_SORTS = ['name', 'state', 'started', 'visitors', 'lift'] as const

/** Which experiments a list shows, in which order, and which page of it. */
export const experimentListSchema = pageSchema.shape({
  state: string().oneOf(['draft', 'running', 'paused', 'ended'] as const, 'There is no such state.'),
  /** Experiments where left out. */
  purpose,
  /** Part of a name or an address. */
  search: string().trim().max(100, 'Search for at most 100 characters.'),
  /** What it is sorted by; with a minus before it the largest first. The latest first where left out. */
  sort: string().oneOf(
    EXPERIMENT_SORTS.flatMap((name) => [name, `-${name}`] as const),
    'It cannot be sorted by that.',
  ),
})
export type ExperimentSort = (typeof EXPERIMENT_SORTS)[number]
