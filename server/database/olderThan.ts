import { lt, type SQL } from 'drizzle-orm'
import type { AnyPgColumn } from 'drizzle-orm/pg-core'

/** Where the next page of a list begins that shows the latest first: below an id, or with the first row without one. */
export function olderThan(id: AnyPgColumn, after: number | undefined): SQL | undefined {
  return after === undefined ? undefined : lt(id, after)
}
