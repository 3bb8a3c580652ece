import { pageSchema } from '../api/paging'
import { object, string } from '../yup'

export const nameSchema = string().trim().max(120, 'The name is longer than 120 characters.')

export const newExperimentSchema = object({ name: nameSchema.required('Give the experiment a name.') })

/** What experiments can be sorted by. */
export const EXPERIMENT_SORTS = ['name', 'state', 'started', 'visitors', 'lift'] as const

/** Which experiments a list shows, in which order, and which page of it. */
export const experimentListSchema = pageSchema.shape({
  state: string().oneOf(['draft', 'running', 'paused', 'ended'] as const, 'There is no such state.'),
  /** Part of a name or an address. */
  search: string().trim().max(100, 'Search for at most 100 characters.'),
  /** What it is sorted by; with a minus before it the largest first. The latest first where left out. */
  sort: string().oneOf(
    EXPERIMENT_SORTS.flatMap((name) => [name, `-${name}`] as const),
    'It cannot be sorted by that.',
  ),
})
export type ExperimentSort = (typeof EXPERIMENT_SORTS)[number]
