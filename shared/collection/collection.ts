import { array, boolean, number, object, type InferType } from '../yup'
import type { PageRule } from '../../core/targeting/pageRule'
import { pageRuleSchema } from '../audiences/pageRule'

const MOST_RULES = 20

const share = number()
  .typeError('Type the share as a number from 0 to 100.')
  .integer('A share has at most two decimals.')
  .min(0, 'A share is at least 0 %.')
  .max(10_000, 'A share is at most 100 %.')

/** Where, and of which share of the visitors. */
export const somewhereFields = {
  /** Of the visitors, in buckets of 10,000. */
  share: share.required('Type the share of the visitors.'),
  pages: array(pageRuleSchema.required())
    .min(1, 'Name at least one page; / with “begins with” is all of them.')
    .max(MOST_RULES, `At most ${MOST_RULES} addresses.`)
    .required('Name the pages.'),
}
const somewhere = object(somewhereFields)

/** What is collected beside views, clicks and sent forms. */
export const collectionSchema = object({
  behavior: somewhere.required(),
  recording: somewhere
    .shape({
      /** Texts are masked as well; inputs always are. */
      masksText: boolean().default(false),
      days: number()
        .typeError('Type the days as a whole number.')
        .integer('Type the days as a whole number.')
        .min(1, 'Recordings are kept for at least a day.')
        .max(400, 'Recordings are kept for at most 400 days.')
        .required('Type for how many days recordings are kept.'),
      megabytes: number()
        .typeError('Type the size as a whole number.')
        .integer('Type the size as a whole number.')
        .min(10, 'At least 10 MB.')
        .max(1_000_000, 'At most 1,000,000 MB.')
        .required('Type how large all recordings may be together.'),
    })
    .required(),
})

export type CollectionSettings = InferType<typeof collectionSchema>

/** On all pages. */
export const EVERYWHERE: readonly PageRule[] = [{ match: 'begins', value: '/' }]
