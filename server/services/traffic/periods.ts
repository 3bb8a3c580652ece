import { and, asc, eq, inArray } from 'drizzle-orm'
import type { Queries } from '../../database/connect'
import { allocationPeriod } from '../../database/schema'
import { groupBy } from '../groupBy'

export type PeriodRow = typeof allocationPeriod.$inferSelect

/** The periods of experiments whose split moves, by experiment in their order. Others have none. */
export async function periodsOf(
  database: Queries,
  siteId: number,
  experimentIds: readonly number[],
): Promise<ReadonlyMap<number, readonly PeriodRow[]>> {
  if (experimentIds.length === 0) return new Map()
  const rows = await database
    .select()
    .from(allocationPeriod)
    .where(and(eq(allocationPeriod.siteId, siteId), inArray(allocationPeriod.experimentId, [...experimentIds])))
    .orderBy(asc(allocationPeriod.experimentId), asc(allocationPeriod.period))
  return groupBy(rows, ({ experimentId }) => experimentId)
}
