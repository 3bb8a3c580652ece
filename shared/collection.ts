import { array, number, object, type InferType } from './yup'
import type { PageRule } from '../core/targeting/pageRule'
import { pageRuleSchema } from './experiment'

const MOST_RULES = 20

const share = number()
  .typeError('Type the share as a number from 0 to 100.')
  .integer('A share has at most two decimals.')
  .min(0, 'A share is at least 0 %.')
  .max(10_000, 'A share is at most 100 %.')

const somewhere = object({
  /** Of the visitors, in buckets of 10,000. */
  share: share.required('Type the share of the visitors.'),
  pages: array(pageRuleSchema.required())
    .min(1, 'Name at least one page; / with “begins with” is all of them.')
    .max(MOST_RULES, `At most ${MOST_RULES} addresses.`)
    .required('Name the pages.'),
})

/** What is collected beside views, clicks and sent forms. */
export const collectionSchema = object({ behavior: somewhere.required() })

export type CollectionSettings = InferType<typeof collectionSchema>

/** On all pages. */
export const EVERYWHERE: readonly PageRule[] = [{ match: 'begins', value: '/' }]

export interface CollectionView extends CollectionSettings {
  asksConsent: boolean
  retentionDays: number
  /** Of the last seven days. */
  lately: { visitors: number; behaving: number; events: number }
}
