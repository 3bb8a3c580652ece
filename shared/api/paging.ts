import { number, object, type InferType } from '../yup'

export const MOST_ON_A_PAGE = 200

/** Which page of a list: `after` is the `next` of the page before. */
export const pageSchema = object({
  after: number().typeError('after is a number.').integer('after is a whole number.').min(1, 'after is at least 1.'),
  limit: number()
    .typeError('limit is a number.')
    .integer('limit is a whole number.')
    .min(1, 'limit is at least 1.')
    .max(MOST_ON_A_PAGE, `limit is at most ${MOST_ON_A_PAGE}.`)
    .default(50),
})
/** As `pageSchema` gives it. */
export type PageQuery = InferType<typeof pageSchema>

/** One page of a list. */
export interface Paged<Item> {
  items: Item[]
  /** What to ask for the next page with; null on the last. */
  next: number | null
}

/** A page of rows of which one more was read than is shown. */
export function pageOf<Item extends { id: number }>(rows: readonly Item[], limit: number): Paged<Item> {
  const items = rows.slice(0, limit)
  return { items, next: rows.length > limit ? items.at(-1)!.id : null }
}
