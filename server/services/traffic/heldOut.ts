import { and, desc, eq, getTableColumns, isNotNull, isNull } from 'drizzle-orm'
import { alias } from 'drizzle-orm/pg-core'
import type { Queries } from '../../database/connect'
import { experiment, holdout } from '../../database/schema'

/** What it showed is long, and read by itself. */
const { reading: _, ...COLUMNS } = getTableColumns(holdout)
export type HoldoutRow = Omit<typeof holdout.$inferSelect, 'reading'>

/** Holdouts of a site, the latest first. */
export function allHoldouts(database: Queries, siteId: number): Promise<HoldoutRow[]> {
  return database
    .select(COLUMNS)
    .from(holdout)
    .where(and(eq(holdout.siteId, siteId), isNull(holdout.deletedAt)))
    .orderBy(desc(holdout.startsAt), desc(holdout.id))
}

/** Whether what started at a moment was begun in the period of a holdout. */
export function concerns({ startsAt, endsAt }: Pick<HoldoutRow, 'startsAt' | 'endsAt'>, startedAt: Date): boolean {
  return startsAt <= startedAt && startedAt < endsAt
}

/**
 * For an experiment, by its start, the holdouts that keep their visitors from it. Something that it serves of another
 * one is also kept from whom that was kept from.
 */
export async function holdoutsOf(
  database: Queries,
  siteId: number,
): Promise<(startedAt: Date, servedFrom?: number | null) => HoldoutRow[]> {
  const rows = await allHoldouts(database, siteId)
  const origins = await startsOfServed(database, siteId)
  return (startedAt, servedFrom = null) => {
    const starts = [startedAt, origins.get(servedFrom ?? 0)].filter((start) => start !== undefined)
    return rows.filter((row) => row.closedAt === null && starts.some((start) => concerns(row, start)))
  }
}

/** When experiments were started of which something is served. */
async function startsOfServed(database: Queries, siteId: number): Promise<Map<number, Date>> {
  const serving = alias(experiment, 'serving')
  const rows = await database
    .select({ id: experiment.id, startedAt: experiment.startedAt })
    .from(experiment)
    .innerJoin(serving, and(eq(serving.siteId, siteId), eq(serving.servedFrom, experiment.id)))
    .where(and(eq(experiment.siteId, siteId), isNotNull(experiment.startedAt)))
  return new Map(rows.map(({ id, startedAt }) => [id, startedAt!]))
}
